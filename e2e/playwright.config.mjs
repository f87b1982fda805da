import { defineConfig } from "@playwright/test";
import { launch, viewport } from "./browser.mjs";

export default defineConfig({
  testDir: ".",
  testMatch: "*.spec.mjs",
  outputDir: "test-results",
  reporter: "list",
  workers: 2,
  // A test that fails once is told as flaky, and fails where it fails again.
  retries: 1,
  // Waits are long, so that a slow machine is not taken for a defect; what is
  // fast enough is measured elsewhere.
  timeout: 300_000,
  expect: { timeout: 60_000 },
  globalSetup: "./server.mjs",
  use: {
    viewport,
    launchOptions: launch,
    actionTimeout: 60_000,
    navigationTimeout: 120_000,
  },
});
