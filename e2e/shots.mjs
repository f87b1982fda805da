// Makes the pictures of docs/screenshots from the demonstration, which must
// answer at the address given: node e2e/shots.mjs http://127.0.0.1:8484 DIR
import { chromium } from "@playwright/test";
import { launch, signIn, viewport } from "./browser.mjs";

const base = process.argv[2] ?? "http://127.0.0.1:8484";
const dir = process.argv[3] ?? "docs/screenshots";
const only = process.argv[4];
const pages = {
  board: "/board",
  sheet: "/project/FR-01",
  exceptions: "/exceptions",
  map: "/map?box=4,14,-2,34",
  trail: "/project/FR-01?trail=FR-01/cpi&vs=2026-10",
  money: "/money?of=FR-01&vs=2026-08",
  timeline:
    "/timeline?open=FR-01,QS-02&per=quarters&from=2027-04-01&of=QS-02/E3",
  roadmap: "/roadmap?per=3",
  gone: "/dates/gone",
  calendar: "/calendar?month=2026-12",
  backlog: "/backlog",
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

await signIn(page, "executive", base);
for (const [name, path] of Object.entries(pages)) await shoot(name, path);

// A lead's desk, and a statement that is being typed.
if (!only || ["desk", "state"].includes(only)) {
  const lead = await browser.newPage({ viewport });
  await signIn(lead, "lead", base);
  await lead.waitForURL(/desk/);
  await lead.evaluate(() => document.fonts.ready);
  await lead.screenshot({ path: `${dir}/desk.png` });
  await lead.goto(base + "/state/QS-05/progress");
  for (const [nth, percent] of [
    [0, "77"],
    [7, "40"],
  ]) {
    await lead.locator("input.cell").nth(nth).fill(percent);
    await lead.keyboard.press("Tab");
  }
  await lead.getByText("Kept, and not sent yet.").waitFor();
  await lead.screenshot({ path: `${dir}/state.png` });
  await lead.getByRole("button", { name: "Drop what I typed here" }).click();
  await lead.close();
}

const analyst = await browser.newPage({ viewport });
await signIn(analyst, "analyst", base);
const shot = async (name, target = analyst) => {
  await analyst.evaluate(() => document.fonts.ready);
  await target.screenshot({ path: `${dir}/${name}.png` });
};
if (!only || only === "push") {
  await analyst.goto(base + "/timeline/push?of=FR-01/D9&finish=2027-08-20");
  await shot("push");
}
if (!only || only.startsWith("brief")) {
  await analyst.goto(base + "/brief?vs=2026-10");
  await shot("brief");
}
if (!only || ["check", "rules"].includes(only)) {
  await analyst.goto(base + "/check");
  await shot("check");
  await analyst.goto(base + "/setup/rules?cause=dates%7Cspi_t%7C");
  await analyst.getByLabel("Watch", { exact: true }).fill("0.98");
  await analyst
    .getByRole("button", { name: "See who would move" })
    .first()
    .click();
  await analyst.waitForSelector(".effect");
  await shot("rules");
}
if (!only || only.startsWith("gather")) {
  await analyst.goto(base + "/gather");
  await shot("gather");
}
if (!only || only === "closing") {
  await analyst.goto(base + "/close?at=2026-11");
  await shot("closing");
}
await browser.close();
