// Adds up what Jest and Playwright have run, prints one line, fails when one of them ran nothing.
import { readFileSync } from "node:fs";

const read = (name) => {
  try {
    return JSON.parse(readFileSync(`test-results/${name}.json`, "utf8"));
  } catch {
    console.error(`test-results/${name}.json is missing`);
    process.exit(1);
  }
};
const unit = read("unit");
const { stats, suites } = read("e2e");

/** Files of tests with the seconds they took. */
const took = new Map();
const add = (file, ms) => took.set(file, (took.get(file) ?? 0) + ms / 1000);
for (const { name, startTime, endTime } of unit.testResults)
  add(name.replace(`${process.cwd()}/`, ""), endTime - startTime);
const walk = (suite) => {
  for (const spec of suite.specs ?? [])
    for (const test of spec.tests)
      for (const { duration } of test.results) add(`e2e/${suite.file}`, duration);
  for (const inner of suite.suites ?? []) walk(inner);
};
for (const suite of suites) walk(suite);
const slowest = [...took].sort((a, b) => b[1] - a[1]).slice(0, 8);
console.log(`slowest: ${slowest.map(([file, s]) => `${file} ${s.toFixed(0)} s`).join(", ")}`);
const passed = unit.numPassedTests + stats.expected + stats.flaky;
const failed = unit.numFailedTests + unit.numRuntimeErrorTestSuites + stats.unexpected;
const skipped = unit.numPendingTests + stats.skipped;
console.log(`${passed} passed, ${failed} failed, ${skipped} skipped`);
if (unit.numPassedTests === 0 || stats.expected === 0 || failed > 0) process.exit(1);
