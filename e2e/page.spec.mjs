// Pages that a person arranges: blocks of the screens side by side, kept under a name.
import { accessible, expect, fits, test } from "./pages.mjs";

test("an executive arranges a page of their own, and keeps it", async ({
  page,
  as,
}) => {
  await as("executive");
  await page.goto("/board");
  const said = await page.locator(".sentence").first().innerText();
  await page.getByRole("link", { name: "Page", exact: true }).click();
  // What it begins with: the sentence, what needs a decision, what moved, who stands out.
  const block = (name) => page.getByRole("region", { name, exact: true });
  await expect(
    block("The portfolio in a sentence").locator(".sentence"),
  ).toHaveText(said);
  await expect(block("To decide")).toContainText("QS-01 North quay piling");
  await expect(block("Exceptions").locator("table")).toBeVisible();
  await expect(block("Funding")).toContainText("is authorised");
  await expect(page.locator(".grid-12 .sentence")).toHaveCount(5);
  await accessible(page);
  await fits(page);

  // Arranged: one goes away, one grows, one goes before the other, a text is added.
  await page.getByRole("link", { name: "Arrange" }).click();
  await block("What is due").getByRole("link", { name: "Take away" }).click();
  await expect(block("What is due")).toHaveCount(0);
  await block("What moved").getByRole("link", { name: "Earlier" }).click();
  await expect(page.locator(".grid-12 > section").nth(1)).toHaveAttribute(
    "aria-label",
    "What moved",
  );
  await block("Funding").getByRole("link", { name: "Wider" }).click();
  await expect(block("Funding")).toHaveClass(/span-lg-8/);
  await page.locator("select[name=add]").selectOption("A text");
  await page.getByLabel("Words, of a text or a link").fill("For Tuesday <b>");
  await page.getByRole("button", { name: "Put it on the page" }).click();
  await expect(block("A text")).toContainText("For Tuesday <b>");
  await page.getByRole("link", { name: "Done" }).click();
  await expect(page.getByRole("link", { name: "Take away" })).toHaveCount(0);

  await page.locator(".tools .menu", { hasText: "Views" }).click();
  await page.getByLabel("Save this as").fill("Tuesday");
  await page.getByRole("button", { name: "Save this view" }).click();

  // From a screen, with its filters, onto the page that is kept.
  await page.goto("/exceptions?cause=over");
  await page.locator(".tools .menu", { hasText: "Views" }).click();
  await page.getByRole("link", { name: "Put it on a page" }).click();
  await expect(block("A text")).toBeVisible();
  await expect(block("Exceptions")).toHaveCount(2);
  await expect(block("Exceptions").last().locator("tbody tr")).toHaveCount(7);

  // A figure and how it moved, from its trail.
  await page.goto("/trail/FR-01/cpi");
  await page.getByRole("link", { name: "How it moved" }).click();
  await expect(page.locator(".sentence")).toContainText(
    /Cost performance index, Hybrid ferry Marrin: 0\.\d\d, [+−]0\.\d\d since/,
  );
  await expect(page.locator("#trend .wide svg")).toBeVisible();
  await accessible(page);
  await page.getByRole("link", { name: "Put it on a page" }).click();
  await expect(
    block("A figure and its trend").locator(".sentence"),
  ).toContainText("Hybrid ferry Marrin: 0.");

  // A block is dragged onto another's place.
  await page.goto("/page?arrange=1&blocks=6:sum+6:moved+6:due+6:decide");
  await block("To decide").dragTo(block("What moved"), {
    sourcePosition: { x: 40, y: 20 },
    targetPosition: { x: 40, y: 20 },
  });
  await expect(page.locator(".grid-12 > section").nth(1)).toHaveAttribute(
    "aria-label",
    "To decide",
  );
  await expect(page.locator(".grid-12 > section")).toHaveCount(4);

  // A block is folded to its head, and shown again.
  await block("What moved").getByRole("link", { name: "Fold What" }).click();
  await expect(block("What moved").locator("[data-screen]")).toHaveCount(0);
  await block("What moved").getByRole("link", { name: "Show What" }).click();
  await expect(block("What moved")).toContainText("QS-07");

  // It opens again as it was kept, in another period too; a figure leads to its trail.
  await page.goto("/views");
  await page.getByRole("link", { name: "Tuesday" }).click();
  await expect(page.locator("#main .tools b").first()).toHaveText("Tuesday");
  await expect(page.locator(".grid-12 > section")).toHaveCount(7);
  await page.keyboard.press("[");
  await expect(page).toHaveURL(/at=2026-10/);
  await expect(block("Exceptions").locator("table")).toBeVisible();
  await block("The portfolio in a sentence")
    .getByRole("link", { name: "Open it" })
    .waitFor({ state: "detached" });
  await block("Exceptions").locator("td a.f").last().click();
  await expect(page.locator("#trail .value")).toBeVisible();

  // Each table and chart of it can be taken.
  await page.goto("/page");
  await expect(page.locator(".box.money .wide svg")).toBeVisible();
  await expect(block("Exceptions").last().locator("table")).toBeVisible();
  await page.keyboard.press("d");
  await expect(
    page.locator("#take").getByRole("button", { name: /as PNG/ }),
  ).not.toHaveCount(0);
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    page
      .getByRole("button", {
        name: "Authorised beside plan and outlook as XLSX",
      })
      .click(),
  ]);
  expect(file.suggestedFilename()).toBe(
    "Authorised beside plan and outlook.xlsx",
  );
});
