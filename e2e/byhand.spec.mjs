// An office without any file: cost codes, a template, a project from it, its plan typed
// and pasted, its first statement, and the reading that comes of it.
import { admit, begin, enter } from "./begin.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";

const base = "http://127.0.0.1:8494";
let server, welcome;

test.describe.configure({ mode: "serial" });
test.use({ baseURL: base });
test.beforeAll(async () => ({ server, welcome } = await begin(base)));
test.afterAll(() => server.kill());

// The month of today, and days and months from it.
const now = new Date();
const month = (n) =>
  new Date(Date.UTC(now.getFullYear(), now.getMonth() + n, 1))
    .toISOString()
    .slice(0, 7);
const cell = (page, row, column) =>
  page
    .locator("form.drawing tbody tr")
    .nth(row)
    .locator(`[name^="f:"][name$=":${column}"]`);
const keep = (page) => page.getByRole("button", { name: "Keep it" }).click();

test("its first administrator invites an analyst", async ({
  page,
  browser,
}) => {
  await admit(page, browser, base, welcome, { ines: "Ines Marlow" });
});

test("a template is made by typing and pasting", async ({
  page,
  complaints,
}) => {
  await enter(page, base, "ines");
  await page.goto("/setup/codes");
  for (const [code, name] of [
    ["10", "Works"],
    ["20", "Fees"],
  ]) {
    await page.getByLabel("Code", { exact: true }).fill(code);
    await page.getByLabel("Name", { exact: true }).fill(name);
    await keep(page);
  }
  await page.goto("/setup/records/projects");
  await page.getByRole("link", { name: /^Begin a project/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(
    "New project",
  );
  await accessible(page);
  await page.getByLabel("Code", { exact: true }).fill("T1");
  await page.getByLabel("Name", { exact: true }).fill("Small works");
  await page.locator("[name=state]").selectOption("template");
  await page.getByRole("button", { name: "Begin the project" }).click();
  await expect(page).toHaveURL(/\/plan\/T1\/activities/);
  await accessible(page);
  await fits(page);
  const rows = [
    ["A", "", "Works"],
    ["A1", "A", "Dig"],
    ["A2", "A", "Fill"],
  ];
  await cell(page, 0, "activity").focus();
  await page.evaluate(
    (text) => {
      const data = new DataTransfer();
      data.setData("text", text);
      document.activeElement.dispatchEvent(
        new ClipboardEvent("paste", {
          clipboardData: data,
          bubbles: true,
          cancelable: true,
        }),
      );
    },
    rows.map((r) => r.join("\t")).join("\n"),
  );
  await expect(cell(page, 2, "name")).toHaveValue("Fill");
  await cell(page, 0, "kind").selectOption("summary");
  await cell(page, 1, "baseline_start").fill("2026-01-05");
  await cell(page, 1, "baseline_finish").fill("2026-01-30");
  await cell(page, 1, "budget").fill("600");
  await cell(page, 2, "baseline_start").fill("2026-02-02");
  await cell(page, 2, "baseline_finish").fill("2026-01-02");
  await keep(page);
  await expect(cell(page, 2, "baseline_finish")).toHaveAttribute(
    "aria-invalid",
    "true",
  );
  complaints.length = 0; // of the refused form
  await expect(cell(page, 1, "budget")).toHaveValue("600"); // nothing typed is lost
  await cell(page, 2, "baseline_finish").fill("2026-02-27");
  await cell(page, 2, "budget").fill("400");
  await keep(page);
  await expect(page.getByRole("status")).toContainText("one change");
  await page.getByRole("link", { name: "Money by period" }).click();
  await cell(page, 0, "cost_code").fill("10");
  await cell(page, 0, "2026-01").fill("600");
  await cell(page, 0, "2026-02").fill("400");
  await keep(page);
  await expect(cell(page, 0, "2026-02")).toHaveValue("400");
  await accessible(page);
  await page.goto("/board");
  await expect(page.locator("main")).not.toContainText("Small works");
});

test("a project from it is stated, and read for the first time", async ({
  page,
}) => {
  await enter(page, base, "ines");
  await page.goto("/begin");
  await page.getByLabel("Code", { exact: true }).fill("P1");
  await page.getByLabel("Name", { exact: true }).fill("North slip");
  await page.locator("[name=template]").selectOption("T1");
  await page.getByLabel("Starts on").fill(month(0) + "-01");
  await page.getByRole("button", { name: "Begin the project" }).click();
  await expect(cell(page, 1, "name")).toHaveValue("Dig");
  await expect(cell(page, 1, "baseline_start")).toHaveValue(
    new RegExp("^" + month(0)),
  );
  await page.getByRole("link", { name: "Money by period" }).click();
  const planned = (at) => page.locator(`.grid.money [name$="/${at}"].cell`);
  await expect(planned(month(0))).toHaveValue("600");
  await expect(planned(month(1))).toHaveValue("400");
  await page.goto("/state/P1/progress");
  const percent = page.locator('[name="f:A1/percent"]');
  await percent.fill("50");
  await percent.blur();
  await expect(page.locator(".kept")).toHaveText(/Kept, and not sent yet/);
  await page.goto("/state/P1/send");
  await page.getByRole("button", { name: "Send the statement" }).click();
  await expect(page.getByRole("status")).toContainText("Sent: P1");
  await page.goto("/board");
  await expect(page.locator("main")).toContainText("North slip");
  await page.goto("/project/P1?trail=P1/ev");
  await expect(page.locator("#trail h1")).toContainText("300"); // half of 600
});
