// An office from nothing, in the browser alone: its administrator names it, adds a
// programme and a project, the analyst types and pastes what is known of it, and an
// executive reads it in its own currency.
import { admit, begin, enter } from "./begin.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";

const base = "http://127.0.0.1:8491";
let server, welcome;

test.describe.configure({ mode: "serial" });
test.use({ baseURL: base });
test.beforeAll(async () => ({ server, welcome } = await begin(base)));
test.afterAll(() => server.kill());

const cell = (page, column) => page.locator(`[name="cell.${column}"]`);
const keep = (page) => page.getByRole("button", { name: "Keep it" }).click();

test("the administrator names the office and adds the first project", async ({
  page,
  browser,
  complaints,
}) => {
  await admit(page, browser, base, welcome, { wren: "Wren Tolliver" });
  await page.goto("/board");
  await expect(page.locator("main")).toContainText("Nothing is stated yet");
  const steps = page.getByRole("table", { name: "Where an office begins" });
  await expect(steps).toContainText("it has no name yet");
  await expect(steps.getByRole("link", { name: "Plans, costs" })).toHaveCount(
    0,
  ); // which the administrator cannot do
  await accessible(page);
  await steps.getByRole("link", { name: "The office" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Tarn Works");
  await page.getByLabel("Reporting currency").fill("kroner");
  await keep(page);
  await expect(page.getByRole("alert")).toContainText("such as EUR");
  await page.getByLabel("Reporting currency").fill("nok");
  await page.getByLabel("Fiscal year begins in").selectOption("April");
  await keep(page);
  await expect(page.locator(".sentence")).toContainText(
    "Tarn Works reports in NOK; its fiscal year begins in April",
  );
  await accessible(page);
  await fits(page);

  await page.getByRole("link", { name: "Programmes" }).first().click();
  await cell(page, "programme").fill("TARN");
  await cell(page, "name").fill("The tarn");
  await keep(page);
  await expect(page.locator(".sentence")).toContainText("1 programme");
  await page.getByRole("link", { name: "Projects" }).first().click();
  await cell(page, "project").fill("T-1");
  await cell(page, "name").fill("Dam at the outlet");
  await cell(page, "programme").fill("TRAN");
  await keep(page);
  await expect(page.getByRole("alert")).toContainText('"TRAN" is not known');
  await cell(page, "programme").fill("TARN");
  await cell(page, "lead").fill("Ada Quill");
  await keep(page);
  await expect(page.getByRole("row", { name: /T-1/ })).toContainText("Dam");
  await accessible(page);
  complaints.splice(0); // the forms that were refused
});

async function paste(page, name, rows) {
  await page.goto("/gather");
  await page.getByText("Paste rows from a spreadsheet").click();
  await page.getByLabel("The rows, with their heads").fill(rows.join("\n"));
  await page.getByLabel("What they are called").fill(name);
  await page.getByRole("button", { name: "Look at them" }).click();
  await page.waitForURL(/\/gather\/draft\/\d+/);
  await page.getByRole("button", { name: /^Accept/ }).click();
  await page.waitForURL(/\/gather\/run\/\d+/, { waitUntil: "commit" });
}

test("the analyst types and pastes what is known of it", async ({ page }) => {
  await enter(page, base, "wren");
  await page.goto("/setup/codes");
  await page.locator("form [name=code]").fill("100");
  await page.locator("form [name=name]").fill("Works");
  await page.getByRole("button", { name: /^Keep/ }).first().click();
  await paste(page, "Plan", [
    "Project\tCost code\tKind\tClass\tApr 2026\tMay 2026\tJun 2026",
    "T-1\t100\tplan\tcapex\t300000\t300000\t400000",
  ]);
  await paste(page, "Activities", [
    "project\tactivity\tname\tbudget\tbaseline_start\tbaseline_finish",
    "T-1\tA1\tDig\t1000000\t2026-04-01\t2026-06-30",
  ]);
  await paste(page, "Spent", [
    "project\tcost_code\tkind\tperiod\tamount",
    "T-1\t100\tactual\t2026-04\t320000",
  ]);
  await paste(page, "Progress", [
    "project\tactivity\tperiod\tpercent\tactual_start",
    "T-1\tA1\t2026-04\t25\t2026-04-01",
  ]);

  // What was spent states no class, and takes the plan's.
  await page.goto("/money?of=T-1&rows=class&per=completion&at=2026-04");
  await expect(page.getByRole("row", { name: /capex/ })).toContainText("320");
  await expect(page.getByRole("row", { name: /opex/ })).toHaveCount(0);
});

test("everybody reads one project, in the office's currency, and nothing untrue", async ({
  page,
}) => {
  await enter(page, base, "wren");
  await page.goto("/board");
  const said = page.locator(".sentence").first();
  await expect(said).toContainText("NOK");
  await expect(said).not.toContainText("€");
  await expect(said).toContainText("1 project stands");
  for (const word of ["all are steady", "leads state", "to the cent"])
    await expect(page.locator("main")).not.toContainText(word);
  await page.goto("/project/T-1");
  // BAC 1,000,000; earned 25 %; spent 320,000: CPI 250 ÷ 320 = 0.78.
  await expect(page.locator(".sentence").first()).toContainText("78 øre");
  await accessible(page);
});
