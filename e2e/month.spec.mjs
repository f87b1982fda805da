// A month whole: what was sent goes through the preview, takes its class from the plan, is
// judged by a changed limit and told in a brief that says what the screens say; then two
// people close it at once.
import { execFileSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { signIn } from "./browser.mjs";
import { expect, test } from "./pages.mjs";

const post = mkdtempSync(join(tmpdir(), "turret-post-"));
const turret = fileURLToPath(new URL("../bin/turret", import.meta.url));
execFileSync(turret, ["demo", "--post", post, "--only-post"]);

const words = (text) => text.replace(/\s+/g, "");
const password = "low water at noon";

test.describe.configure({ mode: "serial" });

test("what was sent becomes a brief that says nothing untrue", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  const classes = async () => {
    await page.goto("/money?of=QS-01&rows=class&per=completion&at=2026-11");
    return Object.fromEntries(
      await page
        .locator("main table tbody tr")
        .evaluateAll((rows) =>
          rows.map((r) => [
            r.querySelector("th").innerText.replace(/\W/g, ""),
            +r.querySelector("td").innerText.replace(/\D/g, ""),
          ]),
        ),
    );
  };
  const before = await classes();
  await page.goto("/gather");
  await page.setInputFiles(
    "#files",
    [
      "Hauptbuch Quays 2026-11.csv",
      "Forecast Orran Bay.xlsx",
      "Progress Orran Bay.txt",
    ].map((name) => join(post, name)),
  );
  await page.waitForURL(/\/gather\/draft\/\d+/);
  // Everything that is asked is answered in one go: each sheet keeps what was chosen.
  const sheet = (name) =>
    page.locator(".sheetview", { has: page.locator("h2", { hasText: name }) });
  const progress = sheet("Progress Orran Bay");
  await progress
    .getByLabel("How Forecast finish is written")
    .selectOption("day first");
  await progress.getByLabel("How Started is written").selectOption("day first");
  await sheet("sheet Forecast")
    .getByRole("button", { name: "it is right as it stands" })
    .click();
  await expect(
    page.getByRole("button", { name: "Accept", exact: true }),
  ).toBeEnabled();
  await page.getByRole("button", { name: "Accept", exact: true }).click();
  await expect(page.locator(".sentence")).toContainText("66 taken");

  // 148,250.00 + 22,410.50 − 1,200.00 of QS-01 state no class; the plan has it as capex.
  const after = await classes();
  expect(after.capex - before.capex).toBeGreaterThanOrEqual(169);
  expect(after.capex - before.capex).toBeLessThanOrEqual(170);
  expect(after.opex).toBe(before.opex);

  // A limit as people write it, told in words before it is kept.
  await page.goto("/setup/rules");
  await page
    .locator("tr", { hasText: "Computed outlook over plan" })
    .getByRole("link", { name: "Change" })
    .click();
  await page.getByLabel("Watch", { exact: true }).fill("8 %");
  await page
    .getByRole("button", { name: "See who would move" })
    .first()
    .click();
  await expect(page.locator(".effect")).toContainText(
    "Computed outlook over plan: watch above 8%, act 10%",
  );
  await page.getByRole("button", { name: "Keep it" }).first().click();
  await expect(page.getByRole("status")).toContainText("standings follow");

  await page.goto("/board");
  const said = words(await page.locator(".sentence").innerText());
  await page.goto("/brief");
  const first = words(
    (await page.locator(".paper svg text").allTextContents()).join(" "),
  );
  expect(first).toContain(said);
  const [, pages] = (await page.locator(".tools b").innerText()).match(
    /of (\d+)/,
  );
  expect(+pages).toBeLessThanOrEqual(20);
  for (let leaf = 1; leaf <= +pages; leaf++) {
    await page.goto(`/brief?leaf=${leaf}`);
    const text = (await page.locator(".paper svg text").allTextContents()).join(
      " ",
    );
    for (const untrue of ["all are steady", "leads state", "to the cent"])
      expect(text, `page ${leaf}`).not.toContain(untrue);
  }
  complaints.splice(0);
});

test("of two who close at once, the second is told, and nothing is twice", async ({
  page,
  browser,
  baseURL,
  complaints,
}) => {
  await signIn(page, "administrator");
  await page.goto("/setup/accounts");
  await page.getByLabel("Name", { exact: true }).fill("Wren Tolliver");
  await page.getByLabel("Sign-in name").fill("wren");
  await page.locator("select[name=role]").last().selectOption("analyst");
  await page.getByRole("button", { name: "Make a one-time link" }).click();
  const link = await page.locator(".once code").innerText();
  const wren = await (await browser.newContext({ baseURL })).newPage();
  await wren.goto(link);
  await wren.getByLabel(/^Password/).fill(password);
  await wren.getByLabel(/once more/).fill(password);
  await wren.getByRole("button", { name: /Set the password/ }).click();
  await expect(wren).toHaveURL(/\/board/);
  const ines = await (await browser.newContext({ baseURL })).newPage();
  await signIn(ines, "analyst", baseURL);

  const fill = async (who, text) => {
    const reasons = who.locator('input[name^="reason."]');
    for (let i = 0; i < (await reasons.count()); i++)
      await reasons.nth(i).fill(text);
  };
  for (const who of [wren, ines]) {
    await who.goto("/close?at=2026-11");
    await fill(who, "Seen by the board");
  }
  const close = (who) =>
    who.getByRole("button", { name: "Close Nov 2026", exact: true }).click();
  await Promise.all([close(wren), close(ines)]);
  const told = [];
  for (const who of [wren, ines]) {
    await expect(
      who.locator("main").locator('[role="status"], [role="alert"]').first(),
    ).toContainText(/Nov 2026 is closed|closed already|2026-11 is closed/);
    told.push(await who.locator('main [role="alert"]').count());
  }
  expect(told.reduce((a, b) => a + b)).toBe(1); // one of them is told
  await ines.goto("/cuts");
  await expect(
    ines.locator("tbody th", { hasText: "close of 2026-11" }),
  ).toHaveCount(1);
  complaints.splice(0);
});
