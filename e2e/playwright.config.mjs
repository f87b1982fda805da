import { defineConfig } from "@playwright/test";
import { launch, viewport } from "./browser.mjs";

export const port = 8497;

export default defineConfig({
  testDir: ".",
  testMatch: "*.spec.mjs",
  outputDir: "test-results",
  reporter: "list",
  workers: 1,
  timeout: 90_000,
  expect: { timeout: 10_000 },
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport,
    launchOptions: launch,
    actionTimeout: 10_000,
  },
  webServer: {
    command: `../bin/turret demo --addr 127.0.0.1:${port}`,
    url: `http://127.0.0.1:${port}/healthz`,
    timeout: 60_000,
  },
});
