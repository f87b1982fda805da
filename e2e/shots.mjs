// Makes the pictures of docs/screenshots from the demonstration, which must
// answer at the address given: node e2e/shots.mjs http://127.0.0.1:8484 DIR
import { chromium } from "@playwright/test";
import { launch, signIn, viewport } from "./browser.mjs";

const base = process.argv[2] ?? "http://127.0.0.1:8484";
const dir = process.argv[3] ?? "docs/screenshots";
const only = process.argv[4];
const pages = {
  board: "/board",
  "board-compared": "/board?vs=2026-08&sort=-at_stake",
  sheet: "/project/FR-01",
  "sheet-codes": "/project/QS-02#codes",
  trail: "/project/FR-01?trail=FR-01/cpi&vs=2026-10",
  "trail-page": "/trail/FR-01/ac",
  accounts: "/setup/accounts",
};

const browser = await chromium.launch(launch);
const context = await browser.newContext({ viewport });
const page = await context.newPage();

async function shoot(name, path) {
  if (only && only !== name) return;
  await page.goto(base + path);
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: `${dir}/${name}.png` });
}

await shoot("sign-in", "/sign-in");
await signIn(page, "administrator", base);
for (const [name, path] of Object.entries(pages)) await shoot(name, path);

if (!only || only === "find") {
  await page.goto(base + "/board");
  await page.keyboard.press("/");
  await page.keyboard.type("ald");
  await page.waitForSelector('[role="option"]');
  await page.screenshot({ path: `${dir}/find.png` });
}

for (const [name, path, options] of [
  ["board-phone", "/board", { viewport: { width: 390, height: 844 } }],
  ["sheet-dark", "/project/QS-01", { colorScheme: "dark" }],
]) {
  if (only && only !== name) continue;
  const other = await browser.newPage({ viewport, ...options });
  await signIn(other, "executive", base);
  await other.goto(base + path);
  await other.evaluate(() => document.fonts.ready);
  await other.screenshot({ path: `${dir}/${name}.png` });
}
await browser.close();
