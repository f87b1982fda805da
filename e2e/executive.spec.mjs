// The executive reads the board, goes two levels down and back, on the address
// alone, and without scripts.
import { expect, fits, project, rows, test } from "./pages.mjs";

test("reads the board, goes two levels down and back", async ({ page, as }) => {
  await as("executive");
  await expect(page.locator(".sentence")).toContainText(
    /projects stand against a plan of .* need action/,
  );
  await expect(rows(page)).toHaveCount(30);
  await expect(page.locator("tfoot")).toContainText("Whole portfolio");

  await page
    .getByRole("link", { name: "Quays and slipways", exact: true })
    .first()
    .click();
  await expect(page).toHaveURL(/scope=QS/);
  await expect(page.locator(".rail strong").first()).toHaveText(
    "Quays and slipways",
  );
  await expect(rows(page)).toHaveCount(7);

  await project(page, "QS-01").getByRole("link").first().click();
  await expect(page.locator("h1")).toContainText("North quay piling");
  await expect(page.locator("#standing h2")).toContainText(
    "Why it stands at Act",
  );
  await expect(page).toHaveTitle(/North quay piling/);

  await page.goBack();
  await expect(page).toHaveURL(/\/board\?scope=QS/);
  await expect(rows(page)).toHaveCount(7);
  await page.goBack();
  await expect(rows(page)).toHaveCount(30);
  await page.goForward();
  await expect(rows(page)).toHaveCount(7);
});

test("the figures agree between board, sheet and trail", async ({
  page,
  as,
}) => {
  await as("executive");
  await page.goto("/board?at=2026-10&cols=bac,ac,eac_computed");
  const shown = await project(page, "QS-01")
    .locator("td.n a")
    .evaluateAll((l) => l.map((a) => a.title.replace(/ EUR$/, "")));
  await project(page, "QS-01").getByRole("link").first().click();
  for (const [name, value] of [
    ["Plan at completion", shown[0]],
    ["Actual cost", shown[1]],
    ["Computed outlook", shown[2]],
  ]) {
    const row = page
      .locator("#figures tr", {
        has: page.getByRole("rowheader", { name, exact: true }),
      })
      .first();
    await expect(row).toContainText(value);
    await row.getByRole("link").click();
    await expect(page.locator("#trail h1")).toContainText(`${name} ${value}`);
  }
  const total = await page.locator(".codes tfoot td").first().innerText();
  await page.goto("/board?at=2026-10&cols=bac");
  await expect(project(page, "QS-01").locator("td.n a")).toHaveText(total);
});

test("the figures of the sentence lead to their trails", async ({
  page,
  as,
}) => {
  await as("executive");
  const figures = page.locator(".sentence a");
  for (let i = 0; i < 3; i++) {
    const text = await figures.nth(i).innerText();
    await figures.nth(i).click();
    const value = page.locator("#trail .value");
    // The sentence rounds to tenths of a million, the trail tells all of it.
    const said = Number(text.replace(/[^0-9.]/g, ""));
    await expect
      .poll(async () => {
        const whole = Number((await value.innerText()).replace(/[^0-9.]/g, ""));
        return Math.min(
          ...[1, 1e3, 1e6].map((k) => Math.abs(whole / k - said)),
        );
      })
      .toBeLessThan(0.051);
    await expect(page.locator("#trail .facts tr").first()).toBeVisible();
  }
  await figures.nth(3).click();
  await expect(page).toHaveURL(/standing=act/);
});

test("from a figure of the sentence to the row of a file it is three steps", async ({
  page,
  as,
}) => {
  await as("executive");
  await page.locator(".sentence a").nth(1).click();
  await page
    .locator("#trail .facts tr", { hasText: "FR-01" })
    .getByRole("link")
    .first()
    .click();
  await expect(page.locator("#trail h1")).toContainText("Computed outlook");
  await expect(page.locator("#trail .formula")).toContainText("at CPI, as");
  const days = await page
    .locator("#trail .facts details[open] p")
    .evaluateAll((l) => l.map((p) => p.innerText.split(" · ")[1]));
  expect(days.length).toBeGreaterThan(0);
  expect(days).toEqual(days.toSorted().reverse());
  await page.locator("#trail .facts details[open] a").first().click();
  await expect(page.locator("#trail h1")).toContainText(/\.csv, row \d+/);
});

test("reads without scripts", async ({ browser, baseURL }) => {
  const page = await (
    await browser.newContext({ javaScriptEnabled: false, baseURL })
  ).newPage();
  await page.goto("/sign-in");
  await page.getByLabel("Sign-in name").fill("tor");
  await page.getByLabel("Password").fill("leading lights 26");
  await page.getByRole("button", { name: "Sign in" }).click();
  await project(page, "FR-01").getByRole("link").first().click();
  await page.locator(".sentence a").first().click();
  await expect(page.locator("#trail h1")).toContainText(
    "Cost performance index",
  );
  await page.locator("#trail .formula a").nth(1).click();
  await expect(page.locator("#trail h1")).toContainText("Actual cost");
  await page.getByLabel(/Find a project/).fill("kirkhaven");
  await page.keyboard.press("Enter");
  await page
    .locator("main")
    .getByRole("option", { name: /Kirkhaven/ })
    .first()
    .click();
  await expect(page.locator("h1")).toContainText("Grid connection");
  await page.context().close();
});

test("the pages hold on a phone, on a wide screen and on paper", async ({
  page,
  as,
}) => {
  await as("executive");
  for (const width of [320, 768, 1280, 1920]) {
    await page.setViewportSize({ width, height: 800 });
    for (const path of [
      "/board",
      "/project/FR-01",
      "/project/FR-01?trail=FR-01/ac",
      "/trail/FR-01/cpi",
      "/exceptions",
      "/map",
      "/drivers",
      "/forecasts",
    ]) {
      await page.goto(path);
      await fits(page);
    }
  }
  await page.emulateMedia({ media: "print" });
  await page.goto("/project/FR-01");
  await expect(page.locator(".find")).toBeHidden();
  await expect(page.locator("#money svg").first()).toBeVisible();
});
