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
const { stats } = read("e2e");
const passed = unit.numPassedTests + stats.expected + stats.flaky;
const failed = unit.numFailedTests + unit.numRuntimeErrorTestSuites + stats.unexpected;
const skipped = unit.numPendingTests + stats.skipped;
console.log(`${passed} passed, ${failed} failed, ${skipped} skipped`);
if (unit.numPassedTests === 0 || stats.expected === 0 || failed > 0) process.exit(1);
