// How money is structured: codes, centres and shares in Setup; names of versions;
// a table copied to the clipboard.
import { expect, test } from "./pages.mjs";

test("a code is added and moved, money shared out, and a level set for a role", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/board");
  await page.getByRole("link", { name: "Setup", exact: true }).click();
  await page.getByRole("link", { name: "Cost codes" }).click();
  await expect(page.locator(".sentence")).toContainText("12 cost codes in 2");
  await page.getByRole("textbox", { name: "Code" }).fill("215");
  await page.getByLabel("Name").fill("Spare parts");
  await page.getByLabel("Below").selectOption("210");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("status")).toContainText("215 is kept");
  await expect(page.locator(".sentence")).toContainText("13 cost codes in 3");
  // A code cannot go under its own child; what was chosen stays in the form.
  await page.getByRole("link", { name: "210", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Change 210" })).toBeVisible();
  await page.getByLabel("Below").selectOption("215");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("alert")).toContainText(
    "loop of parents: 210 → 215 → 210",
  );
  await expect(page.getByLabel("Below")).toHaveValue("215");
  complaints.splice(0);

  await page.getByRole("link", { name: "Shares" }).click();
  await expect(
    page.getByRole("heading", { name: "Share money out" }),
  ).toBeVisible();
  await page.locator("select[name=project]").selectOption("QS-05");
  await page.getByLabel("Centres and percent").fill("SQ 60\nS 30");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("alert")).toContainText("add up to 90%");
  complaints.splice(0);
  await page.getByLabel("Centres and percent").fill("SQ 60\nS 40");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("row", { name: /QS-05/ })).toContainText(
    "S 40% · SQ 60% now",
  );
  await page.goto("/money?of=QS-05&rows=centre&per=completion");
  await expect(page.getByRole("row", { name: /Quays/ })).toBeVisible();

  await page.goto("/setup/codes");
  await page.getByLabel("analyst").fill("1");
  await page.getByRole("button", { name: "Keep the levels" }).click();
  await expect(page.getByRole("status")).toContainText("levels are kept");
  await page.goto("/money?of=QS-05");
  await expect(page.getByRole("row", { name: /Labour/ })).toBeVisible();
  await expect(page.getByRole("row", { name: /Own staff/ })).toHaveCount(0);
  await page.goto("/money?of=QS-05&level=all");
  await expect(page.getByRole("row", { name: /Own staff/ })).toBeVisible();
});

test("a version is given a name, and then offered to compare with", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/versions");
  await page.getByRole("link", { name: "Name as stated in Aug 2026" }).click();
  await expect(page.locator("select[name=version]")).toHaveValue(
    "statement~~2026-08",
  );
  await page.getByLabel("Name", { exact: true }).fill("Board forecast");
  await page.getByLabel("Note").fill("shown to the board in September");
  await page.getByRole("button", { name: "Keep the name" }).click();
  await expect(page.getByRole("row", { name: /Aug 2026/ })).toContainText(
    "Board forecast",
  );
  await page.goto("/money");
  await page.getByText("Beside", { exact: false }).first().click();
  await page
    .getByRole("link", { name: "Board forecast (as stated in Aug 2026)" })
    .click();
  await expect(page.locator("thead").first()).toContainText("Aug 2026 said");
});

test("the money table is copied as text, to the cent", async ({
  page,
  as,
  context,
  baseURL,
}) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"], {
    origin: baseURL,
  });
  await as("analyst");
  await page.goto("/money?of=FR-01&per=completion");
  await page.getByRole("link", { name: "Copy" }).click();
  await expect(page.getByRole("status")).toContainText("copied");
  const text = await page.evaluate(() => navigator.clipboard.readText());
  const csv = await (
    await page.request.get("/money.csv?of=FR-01&per=completion")
  ).text();
  expect(text.trim().split("\n")[0]).toMatch(/^level\tcode\tname\t/);
  expect(text.replaceAll("\t", ",").trim().split("\n").length).toBe(
    csv.trim().split("\n").length,
  );
});
