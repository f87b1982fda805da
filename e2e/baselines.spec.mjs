// A new baseline: proposed by an analyst from what is stated, with a reason;
// looked at and approved by an executive; original and latest beside each other.
import { signIn } from "./browser.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";

const bac = async (page) =>
  (await page.locator("table.codes tfoot tr td").first().textContent()).trim();

test("a baseline is proposed, approved by someone else, and then counts", async ({
  page,
  as,
  browser,
  baseURL,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/project/PS-03");
  const before = await bac(page);
  await page.getByRole("link", { name: "baselines", exact: true }).click();
  await expect(page.locator(".sentence")).toContainText("as it was at first");

  // Without a reason, or a change, it is refused, and what was chosen stays.
  await page.getByLabel("what is spent, then the stated forecast").check();
  await page.getByRole("button", { name: "Propose it" }).click();
  await expect(page.getByRole("alert")).toContainText("Reason: say why");
  await expect(
    page.getByLabel("what is spent, then the stated forecast"),
  ).toBeChecked();
  complaints.splice(0);
  await page.getByLabel("the current and actual dates").check();
  await page.getByLabel("Reason").fill("Gates come from another maker");
  await page.getByRole("button", { name: "Propose it" }).click();
  await expect(page.getByRole("status")).toContainText("counts nowhere");
  await expect(page.locator(".sentence")).toContainText(
    /Baseline 2 of Ticket gates would add .* to the plan and would move its finish by/,
  );
  await expect(page.locator("#decide")).toContainText("You proposed it");
  await accessible(page);
  await fits(page);
  await page.goto("/project/PS-03");
  expect(await bac(page)).toBe(before);
  await expect(
    page.getByRole("link", { name: "baselines, 1 proposed" }),
  ).toBeVisible();

  // The executive finds it among those that wait, and decides.
  const other = await browser.newPage({ baseURL });
  await signIn(other, "executive", baseURL);
  await other
    .getByRole("link", { name: "2 baselines wait for a decision" })
    .click();
  await expect(other.locator(".sentence")).toContainText(
    "2 baselines wait for a decision",
  );
  await other.getByRole("link", { name: "Baseline 2 of PS-03" }).click();
  const row = (name) =>
    other.getByRole("row", { name: new RegExp("^" + name) });
  await expect(row("Plan at completion")).toContainText(before);
  const after = (
    await row("Plan at completion").locator("td").nth(1).textContent()
  ).trim();
  expect(after).not.toBe(before);
  await expect(other.locator("#counts")).toContainText(
    "counts from Dec 2026 on: Nov 2026 keeps baseline 1",
  );
  await other.getByLabel("In force from").fill("2026-10-20");
  await other.getByRole("button", { name: "Approve it" }).click();
  await expect(other.getByRole("alert")).toContainText(
    "Oct 2026, which is closed",
  );
  await other.getByRole("button", { name: "Reject it" }).click();
  await expect(other.getByRole("alert")).toContainText("say why");
  await other.getByLabel("In force from").fill("2026-11-20");
  await other.getByLabel("Remark").fill("With the supplier's guarantee");
  await other.getByRole("button", { name: "Approve it" }).click();
  await expect(other.getByRole("status")).toContainText("It is approved");
  await expect(other.locator("#decide")).toContainText("It is in force");

  // It counts from now on; the original can be chosen, and closed periods keep
  // theirs.
  await page.goto("/project/PS-03");
  expect(await bac(page)).toBe(after);
  await page.goto("/project/PS-03?against=original");
  expect(await bac(page)).toBe(before);
  await page.goto("/project/PS-03?at=2026-10");
  expect(await bac(page)).toBe(before);

  // The change of the plan, line by line, as a bridge of one cause.
  await page.goto("/baselines?of=PS-03");
  await expect(
    page.getByRole("row", { name: /With|Gates come/ }),
  ).toContainText("Tor");
  await page.getByRole("link", { name: "What baseline 2 changes" }).click();
  await page.getByRole("link", { name: "Bridge of the plan" }).click();
  const steps = page.locator("table.bridgesteps tbody tr");
  await expect(
    steps.filter({ hasText: "approved baseline changes" }),
  ).not.toContainText(/^\D*$/);
  await page.goto(
    "/money?of=PS-03&amounts=plan&per=completion&beside=baseline1",
  );
  await expect(page.locator("main table caption").first()).toContainText(
    "baseline 1",
  );
});

test("one is rejected with a reason, and stays in the list", async ({
  page,
  as,
  complaints,
}) => {
  await as("executive");
  await page.goto("/baseline?of=QS-01&version=2");
  await expect(page.locator(".sentence")).toContainText(
    "Counted in Nov 2026, it would stand at Watch, not at Act",
  );
  await page.getByLabel("Remark").fill("Show the borings first");
  await page.getByRole("button", { name: "Reject it" }).click();
  await expect(page.getByRole("status")).toContainText("It is rejected");
  await page.goto("/baselines");
  await expect(page.getByRole("row", { name: /QS-01/ })).toContainText(
    "“Show the borings first”",
  );
  await page.goto("/baseline?of=QS-01&version=9");
  await expect(page.locator("h1")).toContainText("has no baseline 9");
  complaints.splice(0);
});
