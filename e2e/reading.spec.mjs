// The analyst reads: from the board to a project, from a figure to its files.
import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "@playwright/test";

let complaints;

test.beforeEach(({ page }) => {
  complaints = [];
  page.on("console", (m) => {
    if (m.type() === "error" || m.type() === "warning")
      complaints.push(m.text());
  });
  page.on("pageerror", (e) => complaints.push(e.message));
});

test.afterEach(() => expect(complaints).toEqual([]));

async function accessible(page) {
  const found = await new AxeBuilder({ page }).analyze();
  expect(found.violations.map((v) => `${v.id}: ${v.nodes[0].html}`)).toEqual(
    [],
  );
}

async function fits(page) {
  const wide = await page.evaluate(
    () =>
      document.documentElement.scrollWidth -
      document.documentElement.clientWidth,
  );
  expect(wide).toBe(0);
}

test("from the board to the sheet, the trail and the files behind it", async ({
  page,
}) => {
  await page.goto("/");
  await expect(page).toHaveTitle(/Board/);
  await expect(page.locator("tbody tr").first()).toContainText(
    "Whole portfolio",
  );
  await expect(page.locator("tbody tr")).toHaveCount(31);
  await accessible(page);
  await fits(page);

  await page.getByRole("link", { name: "FR-01 Hybrid ferry Marrin" }).click();
  await expect(page.locator("h1")).toContainText("Hybrid ferry Marrin");
  await expect(page.locator("h2").first()).toContainText(
    "Why it stands at Act",
  );
  await accessible(page);
  await fits(page);

  const cpi = page.locator(".reasons tr", {
    hasText: "Cost performance index",
  });
  const value = (await cpi.locator("td").nth(2).innerText()).trim();
  await cpi.getByRole("link").click();
  await expect(page.locator("h1")).toContainText(value);
  await expect(page.locator(".formula")).toContainText("÷");
  await expect(
    page.getByRole("cell", { name: "postings-2026-11.csv" }),
  ).toBeVisible();
  await accessible(page);
  await fits(page);

  await page.locator(".formula").getByRole("link").nth(1).click();
  await expect(page.locator("h1")).toContainText("Actual cost");
  await page.getByText("2 postings").first().click();
  await expect(
    page.getByText("postings-2025-03.csv, row").first(),
  ).toBeVisible();
});

test("another period, and two side by side", async ({ page }) => {
  await page.goto("/board");
  await page.getByRole("link", { name: "beside Oct 2026" }).click();
  await expect(page).toHaveURL(/vs=2026-10/);
  await expect(page.locator(".was").first()).toBeVisible();
  await accessible(page);

  await page.getByRole("link", { name: "FR-01 Hybrid ferry Marrin" }).click();
  await expect(
    page.getByRole("columnheader", { name: "Oct 2026" }).first(),
  ).toBeVisible();
  await page.getByRole("link", { name: /‹ Oct 2026/ }).click();
  await expect(page.getByText("Oct 2026 is closed.")).toBeVisible();
  await page.goBack();
  await expect(page.getByText("Nov 2026 is open")).toBeVisible();

  await page.goto("/trail/*/eac_computed?at=2026-09&vs=2026-06");
  await expect(page.locator(".panel")).toHaveCount(2);
  await expect(page.locator(".panel").nth(1)).toContainText("Jun 2026");
});

test("the figures agree between board, sheet and trail", async ({ page }) => {
  await page.goto("/board?at=2026-10");
  const row = page.locator("tr", { hasText: "QS-01" });
  const title = await row.locator("td.n span").first().getAttribute("title");
  await row.getByRole("link").first().click();
  const bac = page.locator("tr", { hasText: "Plan at completion" }).first();
  await expect(bac).toContainText(title.replace(" EUR", ""));
  await bac.getByRole("link").click();
  await expect(page.locator("h1")).toContainText(title.replace(" EUR", ""));
});

test("addresses that ask for what does not exist answer with a sentence", async ({
  page,
}) => {
  await page.goto("/board?at=2031-01&in=gold");
  await expect(page.locator(".note").first()).toContainText(
    "Nothing is stated for Jan 2031",
  );
  await expect(page.locator("tbody tr")).toHaveCount(31);
  for (const path of [
    "/project/NOPE",
    "/trail/FR-01/nope",
    "/trail/NOPE/cpi",
  ]) {
    const answer = await page.goto(path);
    expect(answer.status()).toBe(404);
    await expect(page.locator("h1")).toContainText("There is no");
  }
  complaints = complaints.filter((c) => !c.includes("404"));
});

test("every link on the first pages leads somewhere", async ({
  page,
  request,
}) => {
  const seen = new Set();
  for (const start of [
    "/board?vs=2026-10",
    "/project/FR-01",
    "/trail/FR-01/cpi",
  ]) {
    await page.goto(start);
    for (const a of await page.locator("a[href]").all()) {
      const href = await a.getAttribute("href");
      if (!href.startsWith("#")) seen.add(new URL(href, page.url()).toString());
    }
  }
  expect(seen.size).toBeGreaterThan(100);
  for (const url of seen) {
    expect((await request.get(url)).status(), url).toBe(200);
  }
});
