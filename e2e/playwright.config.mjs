import { defineConfig } from "@playwright/test";
import { launch, viewport } from "./browser.mjs";

export default defineConfig({
  testDir: ".",
  testMatch: "*.spec.mjs",
  outputDir: "test-results",
  reporter: "list",
  workers: 2,
  timeout: 90_000,
  expect: { timeout: 15_000 },
  globalSetup: "./server.mjs",
  use: { viewport, launchOptions: launch, actionTimeout: 25_000 },
});
