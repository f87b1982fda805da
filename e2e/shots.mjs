// Makes the pictures of docs/screenshots from the demonstration, which must
// answer at the address given: node e2e/shots.mjs http://127.0.0.1:8484 DIR
import { execFileSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
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

// A lead's desk, a statement that is being typed, looked over before it is sent, and a
// question with its answer.
if (!only || ["desk", "state", "forecast", "question"].includes(only)) {
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
  await lead.goto(base + "/state/QS-05/forecast");
  for (const [nth, amount] of [
    [0, "31 000"],
    [1, "28 500"],
  ]) {
    await lead.locator("input.cell").nth(nth).fill(amount);
    await lead.keyboard.press("Tab");
  }
  await lead.getByText("Kept, and not sent yet.").waitFor();
  await lead.screenshot({ path: `${dir}/forecast.png` });
  for (const part of ["progress", "forecast"]) {
    await lead.goto(base + "/state/QS-05/" + part);
    await lead.getByRole("button", { name: "Drop what I typed here" }).click();
  }
  await lead.goto(base + "/question/FR-02/Q1");
  await lead.screenshot({ path: `${dir}/question.png` });
  await lead.close();
}

// A second factor that is being turned on, and the log of who came.
if (!only || ["second", "access"].includes(only)) {
  const executive = await browser.newPage({ viewport });
  await signIn(executive, "executive", base);
  await executive.goto(base + "/account/second");
  await executive.screenshot({ path: `${dir}/second.png` });
  await executive.close();
  const stranger = await browser.newPage({ viewport });
  await stranger.goto(base + "/sign-in");
  await stranger.getByLabel("Sign-in name").fill("ada");
  await stranger.getByLabel("Password").fill("not hers at all");
  await stranger.getByRole("button", { name: "Sign in" }).click();
  await stranger.getByRole("alert").waitFor();
  await stranger.close();
  const administrator = await browser.newPage({ viewport });
  await signIn(administrator, "administrator", base);
  await administrator.goto(base + "/setup/access");
  await administrator.evaluate(() => document.fonts.ready);
  await administrator.screenshot({ path: `${dir}/access.png` });
  await administrator.close();
}

// The analyst's screens come last: they take files into the demonstration.
const analyst = await browser.newPage({ viewport });
await signIn(analyst, "analyst", base);
const shot = async (name, target = analyst) => {
  await analyst.evaluate(() => document.fonts.ready);
  await target.screenshot({ path: `${dir}/${name}.png` });
};
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
  const post = mkdtempSync(join(tmpdir(), "turret-post-"));
  const turret = fileURLToPath(new URL("../bin/turret", import.meta.url));
  execFileSync(turret, ["demo", "--post", post, "--only-post"]);
  await analyst.setInputFiles(
    "#files",
    [
      "Hauptbuch Quays 2026-11.csv",
      "Progress Orran Bay.txt",
      "Forecast Orran Bay.xlsx",
    ].map((f) => join(post, f)),
  );
  await analyst.waitForURL(/draft/);
  await shot("gather-preview");
}
// The month's end is last of all: it closes, and opens again.
if (!only || ["closing", "history"].includes(only)) {
  const press = (name) => analyst.getByRole("button", { name }).click();
  await analyst.goto(base + "/close?at=2026-11");
  await shot("closing");
  const close = async () => {
    await analyst.goto(base + "/close?at=2026-11");
    for (const reason of await analyst.locator('input[name^="reason."]').all())
      await reason.fill("Seen by the board of 7 December");
    await press("Close Nov 2026");
    await analyst.waitForURL(/done=/);
  };
  await close();
  await analyst.getByLabel("Reason").fill("A late invoice of the workshop");
  await press("Open Nov 2026 again");
  await analyst.waitForURL(/done=.*open/);
  await analyst.goto(base + "/gather");
  await analyst.locator(".drop summary").click();
  await analyst
    .locator(".drop textarea")
    .fill(
      "project,cost_code,kind,class,period,amount\nFR-05,110,actual,opex,2026-11,48250.00\nQS-07,220,actual,capex,2026-11,12600.00\n",
    );
  await analyst.locator(".drop button").click();
  await analyst.waitForURL(/draft/);
  await press("Accept");
  await analyst.waitForURL(/run/);
  await analyst.goto(
    base + "/history?project=FR-05&table=costs&row=2026-11&from=2026-11-01",
  );
  await shot("history");
}
await browser.close();
