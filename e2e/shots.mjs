// Makes the pictures of docs/screenshots from the demonstration, which must
// answer at the address given: node e2e/shots.mjs http://127.0.0.1:8484 DIR
import { chromium } from "@playwright/test";
import { launch, viewport } from "./browser.mjs";

const base = process.argv[2] ?? "http://127.0.0.1:8484";
const dir = process.argv[3] ?? "docs/screenshots";
const pages = {
  board: "/board",
  "board-compared": "/board?vs=2026-10",
  sheet: "/project/FR-01",
  trail: "/trail/FR-01/cpi?vs=2026-10",
  "trail-cost": "/trail/FR-01/ac",
};

const browser = await chromium.launch(launch);
const page = await browser.newPage({ viewport });
for (const [name, path] of Object.entries(pages)) {
  if (process.argv[4] && process.argv[4] !== name) continue;
  await page.goto(base + path);
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: `${dir}/${name}.png` });
}
await browser.close();
