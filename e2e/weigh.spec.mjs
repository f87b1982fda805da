// Weigh: what looks good only in all, what its lead states better than computed,
// and the outliers on the map are found, taken into a brief and opened; whose
// forecasts were wrong, and what overruns go with, are read.
import { accessible, expect, fits, test } from "./pages.mjs";

// place opens a screen of Weigh from the line under the rail.
const place = (page, name) =>
  page
    .getByRole("navigation", { name: "Weigh" })
    .getByRole("link", { name, exact: true })
    .click();

test("finds what stands out, and takes the list into a brief", async ({
  page,
  as,
}) => {
  await as("analyst");
  await place(page, "Exceptions");
  await expect(page.locator(".sentence")).toContainText("stand out");
  await accessible(page);
  await fits(page);

  // A line each, the most at stake first; a line opened tells why in words.
  const lines = page.locator("table.exceptions tbody tr");
  const stakes = (await lines.locator("td:last-child").allInnerTexts()).map(
    (x) => Number(x.replace(/[,–—]/g, "") || 0),
  );
  expect(stakes).toEqual([...stakes].sort((a, b) => b - a));
  await expect(lines.first().locator("li").first()).toBeHidden();
  await lines.first().locator("summary").click();
  await expect(lines.first().locator("li").first()).toContainText(
    "The computed outlook of",
  );
  await lines.first().locator("td .f").first().click();
  await expect(page.locator("#trail.open")).toContainText("Computed outlook");
  await expect(lines.first().locator("li").first()).toBeVisible();
  await accessible(page);
  await page.keyboard.press("Escape");

  // Bad now and good in all: the period's index and that of all are told.
  await page.getByRole("link", { name: /^Bad now, good in all \d/ }).click();
  await expect(page.locator("p.quiet.mb-2")).toContainText("below 0.9");
  const row = page.locator("table.exceptions tbody tr").first();
  await expect(row).toContainText(
    /PI of the period is 0\.\d+, and \d\.\d+ in all/,
  );
  const before = await page.locator("table.exceptions tbody tr").count();

  // A figure of the sentence opens its trail beside it.
  await row.locator("td .f").first().click();
  await expect(page.locator("#trail.open")).toContainText("of the period");
  await page.keyboard.press("Escape");

  // The limits are the reader's: stricter ones find less.
  await page.locator("#limits .menu").click();
  await page.getByLabel("Index of the period below").fill("0.5");
  await page.getByRole("button", { name: "Find" }).click();
  await expect(page).toHaveURL(/period_index=0\.5/);
  await expect(page.locator("p.quiet.mb-2")).toContainText("below 0.5");
  expect(await page.locator("table.exceptions tbody tr").count()).toBeLessThan(
    before,
  );
  await page.locator("#limits .menu").click();
  await page.getByLabel("Index of the period below").fill("much");
  await page.getByRole("button", { name: "Find" }).click();
  await expect(page.locator(".note").first()).toContainText(
    "is a number from 0 to 10",
  );

  // Stated better than computed, of one lead, goes into the brief.
  await page.goto("/exceptions?lead=Callum+Reith");
  await page.getByRole("link", { name: /^Stated better \d/ }).click();
  await expect(page.locator("table.exceptions")).toContainText(
    "The lead states Steady, and the figures say Act.",
  );
  const found = await page
    .locator("table.exceptions tbody th .project")
    .allInnerTexts();
  await page.getByRole("link", { name: "Take it into a brief" }).click();
  await expect(page).toHaveURL(/\/brief\?/);
  const paper = page.locator(".paper");
  await expect(paper).toContainText("Exceptions: Stated better");
  for (const name of found)
    await expect(paper).toContainText(name.split(" ")[0]);
  await expect(paper).toContainText("The lead states Steady");
});

test("picks the outliers on the map by a drawn box, and opens their rows", async ({
  page,
  as,
}) => {
  await as("analyst");
  await place(page, "Map");
  await expect(page.locator(".sentence")).toContainText(
    "beyond the limits of both",
  );
  await accessible(page);
  await fits(page);
  const all = await page.locator("main table tbody tr").count();

  // A box around what lies to the right.
  const svg = page.locator(".mapbox svg.map");
  const at = await svg.boundingBox();
  await page.mouse.move(at.x + at.width * 0.62, at.y + at.height * 0.06);
  await page.mouse.down();
  await page.mouse.move(at.x + at.width * 0.8, at.y + at.height * 0.3);
  await page.mouse.move(at.x + at.width * 0.98, at.y + at.height * 0.85);
  await page.mouse.up();
  await page.waitForURL(/box=/);
  const rows = page.locator("main table tbody tr");
  await expect(page.locator("main table thead")).toContainText("Chosen");
  const chosen = await rows.count();
  expect(chosen).toBeGreaterThan(0);
  expect(chosen).toBeLessThan(all);
  for (const text of await rows.locator("td:nth-of-type(2)").allInnerTexts())
    expect(parseFloat(text)).toBeGreaterThan(8);
  await expect(page.locator(".map circle.chosen")).toHaveCount(chosen);

  // Other axes; the same box typed; and a project picked by a click.
  await page.goto("/map?x=cpi&y=spi_t");
  await page.locator(".choices .menu", { hasText: /^Box/ }).click();
  const fields = page.locator("#boxform [data-box]");
  for (const [i, v] of ["0.5", "0.95", "0.5", "0.95"].entries())
    await fields.nth(i).fill(v);
  await page.getByRole("button", { name: "Show what is in it" }).click();
  await expect(page).toHaveURL(/box=0\.5%2C0\.95%2C0\.5%2C0\.95/);
  for (const text of await rows.locator("td:nth-of-type(2)").allInnerTexts())
    expect(parseFloat(text)).toBeLessThanOrEqual(0.95);
  await page
    .locator(".map")
    .getByRole("link", { name: /^QS-07/ })
    .click();
  await expect(page).toHaveURL(/of=/);
  await expect(rows).toHaveCount(1);
  await rows.getByRole("link").first().click();
  await expect(page).toHaveURL(/\/project\//);
});

test("reads whose forecasts were wrong, and what overruns go with", async ({
  page,
  as,
}) => {
  await as("analyst");
  await place(page, "Forecasts");
  await expect(page.locator(".sentence")).toContainText("missed most");
  await accessible(page);
  await fits(page);
  await page.getByRole("link", { name: "6 ahead" }).click();
  await expect(page.locator(".sentence")).toContainText("6 periods ahead");
  await page
    .locator("main table tr", { hasText: "QS-01" })
    .locator("td a")
    .nth(1)
    .click();
  await expect(page.locator("#pairs")).toContainText("said 3 periods before");

  // What was said and what came make the error that is told.
  const [said, came] = await page
    .locator("#pairs tbody tr")
    .first()
    .locator("td.n")
    .allInnerTexts()
    .then((l) => l.map((x) => parseFloat(x.replaceAll(",", ""))));
  const told = await page
    .locator("#pairs tbody tr td:last-child")
    .first()
    .innerText();
  expect(((said - came) / came) * 100).toBeCloseTo(
    parseFloat(told.replace("−", "-")),
    1,
  );

  await place(page, "Drivers");
  await expect(page.locator(".sentence")).toContainText(
    "Overruns go most with main supplier",
  );
  await accessible(page);
  await fits(page);
  await page.getByRole("link", { name: "Programme", exact: true }).click();
  await expect(page.locator(".drivers")).toContainText("Quays and slipways");
  await page.getByRole("link", { name: "Quays and slipways" }).click();
  await expect(page.locator("#rows h2")).toContainText("Quays and slipways 7");
  await expect(page.locator("#rows tbody tr")).toHaveCount(7);
  await page.locator("#rows td .f").first().click();
  await expect(page.locator("#trail.open")).toBeVisible();
});

test("weighs one project by its measures", async ({ page, as }) => {
  await as("analyst");
  await page.goto("/project/FR-01#measures");
  const measures = page.locator("#measures");
  await expect(measures).toContainText("Taken is outlook at CPI");
  await expect(measures.locator("tr.taken")).toContainText("Outlook at CPI");

  // The taken estimate is the computed outlook of the sheet.
  const taken = await measures.locator("tr.taken td.n").first().innerText();
  await expect(
    page.locator("#figures tr", { hasText: "Computed outlook" }).first(),
  ).toContainText(taken);
  await measures.getByRole("link", { name: "credible", exact: false }).click();
  await expect(page.locator("#trail.open")).toContainText(
    "distance from what was achieved",
  );
  await page.keyboard.press("Escape");
  await measures.getByRole("link", { name: /Works and supplies/ }).click();
  await expect(page).toHaveURL(/\/money\?.*code=200/);

  // The same measures are columns of the board.
  await page.goto(
    "/board?cols=overall,cpi3,eac_spread,months_left,forecast_error&sort=-forecast_error",
  );
  for (const head of [
    "CPI of three periods",
    "Spread of the estimates",
    "Forecast error, 3 ahead",
  ])
    await expect(page.locator("table.board thead")).toContainText(head);
  await accessible(page);
});
