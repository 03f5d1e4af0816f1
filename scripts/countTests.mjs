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
const interfaceParts = ["e2e-beside", "e2e-alone"].map(read);
const sum = (stat) => interfaceParts.reduce((all, { stats }) => all + stats[stat], 0);

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
for (const { suites } of interfaceParts) for (const suite of suites) walk(suite);
const slowest = [...took].sort((a, b) => b[1] - a[1]).slice(0, 8);
console.log(`slowest: ${slowest.map(([file, s]) => `${file} ${s.toFixed(0)} s`).join(", ")}`);
const passed = unit.numPassedTests + sum("expected") + sum("flaky");
const failed = unit.numFailedTests + unit.numRuntimeErrorTestSuites + sum("unexpected");
const skipped = unit.numPendingTests + sum("skipped");
console.log(`${passed} passed, ${failed} failed, ${skipped} skipped`);
if (unit.numPassedTests === 0 || sum("expected") === 0 || failed > 0) process.exit(1);
