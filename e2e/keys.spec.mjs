// Everything once by keyboard alone.
import { people } from "./browser.mjs";
import { expect, test } from "./pages.mjs";

// tabTo presses Tab until something has the focus.
async function tabTo(page, matches, most = 200) {
  for (let i = 0; i < most; i++) {
    await page.keyboard.press("Tab");
    if (
      await page.evaluate((s) => document.activeElement?.matches(s), matches)
    ) {
      const outline = await page.evaluate(() => {
        const s = getComputedStyle(document.activeElement);
        return s.outlineStyle !== "none" && parseFloat(s.outlineWidth) > 0;
      });
      expect(outline, `the focus on ${matches} shows`).toBe(true);
      return;
    }
  }
  throw new Error(`Tab does not reach ${matches}`);
}

test("from the door to a source row and back, without a mouse", async ({
  page,
}) => {
  const press = (key) => page.keyboard.press(key);
  await page.goto("/board");
  await expect(page.getByLabel("Sign-in name")).toBeFocused();
  await page.keyboard.type(people.analyst[0]);
  await press("Tab");
  await page.keyboard.type(people.analyst[1]);
  await press("Enter");
  await page.waitForURL(/\/board/); // and its scripts are there

  await press("?");
  await expect(page.getByRole("dialog", { name: "Keys" })).toBeVisible();
  await press("Escape");
  await expect(page.getByRole("dialog", { name: "Keys" })).toBeHidden();

  // Past the bar, what needs action is few keys away; the rail is one of them.
  await press("Tab");
  await press("Enter"); // to the matter
  let tabs = 1;
  const there = () =>
    page.evaluate(() =>
      /need\b.*action/.test(document.activeElement.innerText),
    );
  for (; !(await there()) && tabs < 40; tabs++) await press("Tab");
  await expect(page.locator("*:focus")).toContainText("need");
  expect(tabs).toBeLessThan(12);
  await page.locator(".rail a.period[tabindex='0']").focus();
  await press("ArrowLeft");
  await expect(page.locator("*:focus")).toHaveAttribute("id", "p-2026-10");
  await expect(page.locator(".rail a.period[tabindex='0']")).toHaveCount(1);

  await press("c");
  await expect(page).toHaveURL(/vs=2026-10/);
  await press("[");
  await expect(page).toHaveURL(/at=2026-10/);
  await press("]");
  await expect(page).toHaveURL(/at=2026-11/);
  await press("x");
  await expect(page).not.toHaveURL(/vs=/);

  await press("/");
  await page.keyboard.type("north quay");
  await expect(page.getByRole("option").first()).toContainText("QS-01");
  await press("ArrowDown");
  await press("Enter");
  await expect(page).toHaveURL(/\/project\/QS-01/);
  await expect(page.locator("h1")).toContainText("North quay piling");

  await press(".");
  await expect(page).toHaveURL(/\/project\/QS-02/);
  await press(",");
  await expect(page).toHaveURL(/\/project\/QS-01/);

  await expect(page.locator("#money details.figures")).not.toHaveAttribute(
    "open",
  );
  await press("t");
  await expect(page.locator("#money details.figures")).toHaveAttribute("open");
  await press("t");
  await expect(page.locator("#money details.figures")).not.toHaveAttribute(
    "open",
  );

  await tabTo(page, ".sentence a");
  await press("Enter");
  await expect(page.locator("#trail h1")).toContainText(
    "Cost performance index",
  );
  await expect(page.locator(".sentence a").first()).toBeFocused();
  await press("e");
  await tabTo(page, "#trail .formula a");
  await tabTo(page, "#trail .formula a");
  await press("Enter");
  await expect(page.locator("#trail h1")).toContainText("Actual cost");
  await press("e");
  await expect(page.locator(".sentence a").first()).toBeFocused();
  await press("Escape");
  await expect(page.locator("#trail.open")).toHaveCount(0);

  await press("3");
  await expect(page).toHaveURL(/\/board/);
  await tabTo(page, "#sort-at_stake");
  await press("Enter");
  await expect(page).toHaveURL(/sort=-at_stake/);
  await expect(page.locator("#sort-at_stake")).toBeFocused();
  await tabTo(page, ".fold");
  await press("Enter");
  await expect(page).toHaveURL(/fold=/);
});

test("typing is not taken for keys, and stays while the page changes", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.keyboard.press("/");
  await page.keyboard.type("c3t.,[]x");
  await expect(page.getByLabel(/Find a project/)).toHaveValue("c3t.,[]x");
  await expect(page).not.toHaveURL(/vs=/);
  await page.getByRole("link", { name: /^Sep 2026, closed/ }).click();
  await expect(page).toHaveURL(/at=2026-09/);
  await expect(page.getByLabel(/Find a project/)).toHaveValue("c3t.,[]x");
});
