import { defineConfig } from "@playwright/test";

/** What is timed while it sounds: nothing else may run meanwhile. */
const timed = /(live|listening|layers|faderMoves|soak)\.spec\.ts/;

// scripts/test.sh has started a server and a database for each lane, in which one test runs at a time.
const lane = Number(process.env["TEST_PARALLEL_INDEX"] ?? 0);
for (const name of ["BASE_URL", "DATABASE_URL"]) {
  const own = process.env[`${name}S`]?.split(" ")[lane];
  if (own) process.env[name] = own;
}
const results = `../test-results/e2e-${process.env["JUBO_PART"] ?? "all"}`;

/** The real interface in Debian's Chromium. */
export default defineConfig({
  testDir: ".",
  workers: 1,
  timeout: 120_000,
  // Generous: what is there in time costs nothing, and a shared machine may stand still for seconds.
  expect: { timeout: 15_000 },
  retries: 0,
  reporter: [["list"], ["json", { outputFile: `${results}.json` }]],
  outputDir: results,
  projects: [
    { name: "beside", testIgnore: timed },
    { name: "alone", testMatch: timed },
  ],
  use: {
    baseURL: process.env["BASE_URL"] ?? "http://127.0.0.1:3210",
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: process.env["CHROMIUM"] ?? "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--autoplay-policy=no-user-gesture-required",
      ],
    },
  },
});
