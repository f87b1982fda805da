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
  trail: "/project/FR-01?trail=FR-01/cpi&vs=2026-10",
  money: "/money?of=FR-01&vs=2026-08",
  timeline:
    "/timeline?open=FR-01,QS-02&per=quarters&from=2027-04-01&of=QS-02/E3",
  roadmap: "/roadmap?per=3",
  page: "/page",
  backlog: "/backlog",
  funding: "/funding",
};

const browser = await chromium.launch(launch);
const context = await browser.newContext({ viewport });
const page = await context.newPage();

async function shoot(name, path) {
  if (only && only !== name) return;
  await page.goto(base + path, { waitUntil: "networkidle" });
  await page.evaluate(() => document.fonts.ready);
  await page.screenshot({ path: `${dir}/${name}.png` });
}

await signIn(page, "executive", base);
for (const [name, path] of Object.entries(pages)) await shoot(name, path);

// A statement that is being typed.
if (!only || only === "state") {
  const lead = await browser.newPage({ viewport });
  await signIn(lead, "lead", base);
  await lead.waitForURL(/desk/);
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
// A page that is being arranged.
if (!only || only === "arrange") {
  await analyst.goto(
    base +
      "/page?arrange=1&blocks=12:sum+6:trend+6:trend?figure%3Dcpi%26of%3DFR-01+6:decide+6:contacts",
    { waitUntil: "networkidle" },
  );
  await shot("arrange");
}
if (!only || only.startsWith("brief")) {
  await analyst.goto(base + "/brief?vs=2026-10");
  await shot("brief");
}
if (!only || only === "check") {
  await analyst.goto(base + "/check");
  await shot("check");
}
// A forecast that is being typed, and a total that is to be spread over it.
if (!only || only === "amounts") {
  await analyst.goto(base + "/amounts/QS-02/forecast");
  await analyst.getByLabel("110 Own staff · opex Dec 2026").fill("=60000*1.1");
  await analyst.keyboard.press("Tab");
  await analyst.getByText("Kept, and not sent yet.").waitFor();
  const block = analyst.locator("form.block");
  await block.locator('[name="line"]').selectOption({ index: 2 });
  await block.locator('[name="total"]').fill("900000");
  await block.locator('[name="how"]').selectOption("curve");
  await block.locator('[name="from"]').selectOption("2026-12");
  await block.locator('[name="to"]').selectOption("2027-05");
  await block.getByRole("button", { name: "See what it does" }).click();
  await analyst.locator("#preview").waitFor();
  await shot("amounts");
  await analyst.getByRole("button", { name: "Drop what I typed here" }).click();
}
if (!only || only.startsWith("gather")) {
  await analyst.goto(base + "/gather");
  await shot("gather");
}
if (!only || only === "explain") {
  await analyst.goto(base + "/explain/QS-07");
  const summary = analyst.getByRole("textbox", { name: "Summary" });
  await summary.fill(
    "The lantern came a week late. We expect to finish as planned, at a CPI of 0.95; costs run 3% above estimate.",
  );
  await analyst.locator(".doubts li").nth(2).waitFor();
  await shot("explain");
}
// A pack that was sent to its readers.
if (!only || only === "packs") {
  await analyst.goto(base + "/packs");
  await analyst
    .getByRole("row", { name: /Harbour board/ })
    .getByRole("button", { name: /^Send for/ })
    .click();
  await analyst.getByText("is on its way").waitFor();
  await shot("packs");
}
await browser.close();
