import { defineConfig } from "@playwright/test";

/** The real interface in Debian's Chromium, against the server that scripts/test.sh has started. */
export default defineConfig({
  testDir: ".",
  workers: 1,
  timeout: 120_000,
  // Generous: what is there in time costs nothing, and a shared machine may stand still for seconds.
  expect: { timeout: 15_000 },
  retries: 0,
  reporter: [["list"], ["json", { outputFile: "../test-results/e2e.json" }]],
  outputDir: "../test-results/e2e",
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
