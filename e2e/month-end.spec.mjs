// The end of the month: the analyst closes over open points with reasons, is
// refused a late file, opens again, takes it, closes again, and compares the
// two cuts down to the row. It comes last, as it closes the open period.
import { accessible, expect, fits, paste, test } from "./pages.mjs";

test.describe.configure({ mode: "serial" });

test("closes over open points, and a late file is refused", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.locator(".rail .versions .menu").click();
  await page.getByRole("link", { name: "Close Nov 2026" }).click();
  await expect(page.locator(".sentence")).toContainText(
    "open before Nov 2026 can close",
  );
  await accessible(page);
  const november = page.locator(".rail #p-2026-11");
  await expect(november).toHaveAccessibleName(/^Nov 2026, open:/);
  await page.getByRole("button", { name: "Put Nov 2026 in checking" }).click();
  await expect(page.getByRole("status")).toContainText("leads state no more");
  await expect(november).toHaveAccessibleName(/^Nov 2026, in checking:/);
  await accessible(page);
  const hash = await page.locator(".text-break").innerText();
  await page.getByRole("button", { name: "Close Nov 2026" }).click();
  await expect(page.getByRole("alert")).toContainText(
    "say why the period closes over it",
  );
  const reasons = page.locator('input[name^="reason."]');
  for (let i = 0; i < (await reasons.count()); i++)
    await reasons.nth(i).fill("Seen by the board");
  await page.getByRole("button", { name: "Close Nov 2026" }).click();
  await expect(page.getByRole("status")).toContainText("Nov 2026 is closed");
  await expect(page.locator("tbody code").first()).toHaveAttribute(
    "title",
    hash,
  );
  await expect(page.locator("tbody tr").first()).toContainText(
    "Seen by the board",
  );
  await paste(
    page,
    "project,cost_code,kind,class,period,amount\nFR-05,110,actual,opex,2026-11,1234.50\n",
  );
  await expect(page.locator(".sheetview")).toContainText("2026-11 is closed");
  await page.getByRole("button", { name: "Throw away" }).click();
  expect(complaints.splice(0).filter((c) => !c.includes("422"))).toEqual([]);
});

test("opens again, takes it, closes again, and compares the two", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/close?at=2026-11");
  await page.getByRole("button", { name: "Open Nov 2026 again" }).click();
  await expect(page.getByRole("alert")).toContainText("takes a reason");
  await page.getByLabel("Reason").fill("A late invoice of the workshop");
  await page.getByRole("button", { name: "Open Nov 2026 again" }).click();
  await expect(page.getByRole("status")).toContainText("open again");
  await paste(
    page,
    "project,cost_code,kind,class,period,amount\nFR-05,110,actual,opex,2026-11,1234.50\n",
  );
  await page.getByRole("button", { name: "Accept" }).click();
  await page.waitForURL(/run/);
  await page.goto("/close?at=2026-11");
  const reasons = page.locator('input[name^="reason."]');
  for (let i = 0; i < (await reasons.count()); i++)
    await reasons.nth(i).fill("Seen by the board");
  await page.getByRole("button", { name: "Close Nov 2026" }).click();
  await page.getByRole("link", { name: "with the one before" }).click();
  await expect(page.locator("main > p.mb-0")).toContainText(
    "reopened: A late invoice of the workshop",
  );
  await expect(page.locator(".texts").first()).toContainText("FR-05");
  const row = page.locator("tr", { hasText: "1,234.50 EUR" });
  await expect(row).toContainText("110, opex, 2026-11, actual");
  await accessible(page);
  await row.getByRole("link", { name: "the row" }).click();
  await expect(page.locator("main")).toContainText("1234.50");
  expect(complaints.splice(0).filter((c) => !c.includes("422"))).toEqual([]);
});

test("finds a change by person and by file, undoes one, and is told what stands in the way of another", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/close?at=2026-11");
  await page.getByLabel("Reason").fill("The workshop sent a credit");
  await page.getByRole("button", { name: "Open Nov 2026 again" }).click();
  const head = "project,cost_code,kind,class,period,amount\n";
  for (const rows of [
    "FR-05,110,actual,opex,2026-11,1300.00\nFR-06,110,actual,opex,2026-11,40.00\n",
    "FR-05,110,actual,opex,2026-11,1400.00\n",
  ]) {
    await paste(page, head + rows);
    await page.getByRole("button", { name: "Accept" }).click();
    await page.waitForURL(/run/);
  }
  await page.locator(".account .menu").click();
  await page.getByRole("link", { name: "History" }).click();
  const form = page.locator(".lookfor");
  await form.locator("[name=who]").fill("ines");
  await form.locator("[name=project]").fill("FR-05");
  await form.locator("[name=table]").selectOption("costs");
  await form.locator("[name=row]").fill("2026-11");
  await form.getByRole("button", { name: "Look" }).click();
  const rows = page.locator(".values");
  await expect(rows.nth(0)).toContainText("1,300.00 EUR → 1,400.00 EUR");
  await expect(rows.nth(1)).toContainText("1,234.50 EUR → 1,300.00 EUR");
  await accessible(page);
  await fits(page);

  // The first of the two is built upon; the rest of it can be undone.
  await page.locator(".batches tr.first a").nth(1).click();
  await expect(page.locator(".end").last()).toContainText(
    "costs of FR-05: batch",
  );
  await expect(page.locator(".end").last()).toContainText(
    "It can be undone of FR-06",
  );
  await accessible(page);
  await page.getByRole("button", { name: "Undo the rest" }).click();
  await expect(page.locator(".sentence")).toContainText("undone in part");

  // The second can be undone whole, and the first one's value is back.
  await page.goto("/history?file=pasted&project=FR-05&table=costs");
  await page.locator(".batches tr.first a").first().click();
  await page.getByRole("button", { name: "Undo the batch" }).click();
  await expect(page.getByRole("status")).toContainText("as it was before");
  await page.goto("/history?project=FR-05&table=costs&row=2026-11");
  await expect(page.locator(".values").first()).toContainText(
    "1,400.00 EUR → 1,300.00 EUR",
  );
  await expect(page.locator(".batches tr.first").first()).toContainText(
    "taken back",
  );
  expect(complaints).toEqual([]);
});

test("the executive reads cuts and their differences, and changes none", async ({
  page,
  as,
}) => {
  await as("executive");
  for (const path of ["/close?at=2026-11", "/cuts"]) {
    await page.goto(path);
    await expect(page.locator('main form[method="post"]')).toHaveCount(0);
    await accessible(page);
    await fits(page);
  }
  await page.getByRole("link", { name: "with now" }).first().click();
  await expect(page.locator(".sentence")).toContainText("1 input differs");
  await page.goto("/history");
  await page.locator(".batches tr.first a").first().click();
  await expect(page.locator("main > p.mb-0")).toContainText("batch");
  await expect(page.locator('main form[method="post"]')).toHaveCount(0);
});

test("the day after a close, everyone lands on what was closed", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/close?at=2026-11");
  const reasons = page.locator('input[name^="reason."]');
  await expect(reasons.first()).toHaveValue("Seen by the board"); // it comes back
  for (let i = 0; i < (await reasons.count()); i++)
    await reasons.nth(i).fill("Known");
  await page.getByRole("button", { name: "Close Nov 2026" }).click();
  await expect(page.getByRole("status")).toContainText("Nov 2026 is closed");
  for (const role of ["executive", "lead", "analyst"]) {
    await page.context().clearCookies();
    await as(role);
    await page.goto("/board");
    await expect(page.locator(".rail .selected .name")).toHaveText("Nov");
    await expect(page.locator(".sentence").first()).toContainText("stand");
    const november = await page.locator(".sentence").first().innerText();
    await page.locator(".rail #p-2026-12").click();
    await expect(page.locator(".rail .selected .name")).toHaveText("Dec");
    await expect(page.getByRole("status")).toHaveText(
      "Dec 2026 is open. Nothing is stated for it yet. As of Nov 2026:",
    );
    await expect(page.locator(".sentence").first()).toHaveText(november);
    await expect(page.locator("#p-2026-12")).toHaveAccessibleName(
      "Dec 2026, open",
    );
    await accessible(page);
  }
  await page.goto("/gather");
  await expect(page.locator(".sentence").first()).toContainText(
    "nothing is owed before it ends on 31 Dec 2026",
  );
  await page.goto("/close");
  await expect(page.locator(".sentence").first()).toContainText(
    "it lasts until 31 Dec 2026",
  );
  await expect(page.getByRole("button", { name: /^Close/ })).toHaveCount(0);
  // What is stated first makes it a period of its own.
  await paste(
    page,
    "project,period,section,text\nFR-05,2026-12,summary,All sensors are on board.\n",
  );
  await page.getByRole("button", { name: /^Accept/ }).click();
  await page.waitForURL(/run/);
  await page.goto("/board");
  await expect(page.locator(".rail .selected .name")).toHaveText("Dec");
  await expect(page.locator(".sentence").first()).toContainText(
    /by none of \d+ for Dec 2026/,
  );
  expect(complaints).toEqual([]);
});
