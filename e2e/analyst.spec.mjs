// The analyst compares, filters, sorts, arranges, saves and sends a board, and
// follows figures to the rows they came from.
import { people } from "./browser.mjs";
import { expect, project, projects, rows, test } from "./pages.mjs";

test("compares two periods, filters, sorts, saves a view and sends its address", async ({
  page,
  as,
  browser,
  baseURL,
}) => {
  await as("analyst");
  await page
    .getByRole("link", { name: /^Aug 2026, closed/ })
    .click({ modifiers: ["Shift"] });
  await expect(page).toHaveURL(/vs=2026-08/);
  await expect(page.locator("#versions")).toContainText("against Aug 2026");
  const cell = page.locator("td.differs", { has: page.locator("a.f") }).first();
  await cell.hover();
  await expect(cell.locator(".was")).toBeVisible();
  await expect(cell.locator(".was")).toContainText("was ");
  await page.mouse.move(0, 0);
  await cell.locator("a").focus();
  await expect(cell.locator(".was")).toBeVisible();
  await expect(page.locator("#moved h2")).toHaveText("Moved since Aug 2026");

  await page.getByRole("link", { name: /^Overall: Watch Watch/ }).click();
  await expect(page).toHaveURL(/standing=watch/);
  const shown = await projects(page).count();
  await expect(page.locator(".chip.on").first()).toContainText(`${shown}`);
  await page.getByRole("link", { name: "At stake" }).click();
  await expect(page).toHaveURL(/sort=-at_stake/);
  await page.getByText("Group by").click();
  await page.getByRole("link", { name: "none", exact: true }).click();
  await expect(page.locator("table.board tbody tr.group")).toHaveCount(0);
  const stakes = await page
    .locator("table.board tbody td.c-at_stake a")
    .evaluateAll((l) =>
      l.map((a) => Number(a.title.replace(/[^0-9.−]/g, "").replace("−", "-"))),
    );
  expect(stakes.length).toBe(shown);
  expect(stakes).toEqual([...stakes].sort((a, b) => b - a));

  await page.getByText("Columns", { exact: true }).click();
  await page.getByLabel("Add a column").selectOption("cpi");
  await page.getByRole("button", { name: "Add" }).click();
  await expect(
    page.getByRole("columnheader", { name: "Cost performance index" }),
  ).toBeVisible();
  await page.getByText("Columns", { exact: true }).click();
  await page
    .locator(".columns li", { hasText: "12 periods" })
    .getByLabel("Take away")
    .click();
  await expect(
    page.getByRole("columnheader", { name: "12 periods" }),
  ).toHaveCount(0);

  await page.getByText("Views", { exact: true }).click();
  await page.getByLabel("Save this view as").fill("Watch by stake");
  await page.getByLabel("Share it with everyone").check();
  await page.getByRole("button", { name: "Save this view" }).click();
  await expect(page.locator(".menu", { hasText: "Views" })).toContainText(
    "Watch by stake",
  );
  const texts = await rows(page).allInnerTexts();

  const other = await (await browser.newContext({ baseURL })).newPage();
  await other.goto(page.url());
  await expect(other).toHaveURL(/sign-in/);
  const [login, password] = people.executive;
  await other.getByLabel("Sign-in name").fill(login);
  await other.getByLabel("Password").fill(password);
  await other.getByRole("button", { name: "Sign in" }).click();
  await expect(other).toHaveURL(page.url());
  await expect(rows(other)).toHaveCount(texts.length); // once it has come
  expect(await rows(other).allInnerTexts()).toEqual(texts);
  await other.goto("/views");
  await expect(
    other.getByRole("row", { name: /Watch by stake/ }),
  ).toContainText("Ines Marlow");
  await other
    .getByRole("row", { name: /Watch by stake/ })
    .getByRole("button", { name: "Open my board with it" })
    .click();
  await other.goto("/board");
  await expect(other).toHaveURL(/standing=watch/);
  await other.goto("/views");
  await other.getByRole("button", { name: /plain board instead/ }).click();
  await other.goto("/board");
  await expect(other).not.toHaveURL(/standing/);
  await other.context().close();

  await page.goto("/views");
  await page
    .getByRole("row", { name: /Watch by stake/ })
    .getByRole("button", { name: "Remove" })
    .click();
  await expect(page.getByRole("row", { name: /Watch by stake/ })).toHaveCount(
    0,
  );
});

test("filters by lead, text and stage, and takes each away again", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.getByText("Filter", { exact: true }).first().click();
  await page.locator("select[name=lead]").selectOption("Callum Reith");
  await page.getByLabel(/^Text in code/).fill("quay");
  await page
    .locator(".dropdown-menu.show")
    .getByRole("button", { name: "Filter" })
    .click();
  await expect(projects(page)).toHaveCount(2);
  await expect(page.locator(".sentence")).toContainText("2 of 26 projects");
  await page.getByRole("link", { name: "text quay ×" }).click();
  await expect(projects(page)).toHaveCount(4);
  await page.locator(".sentence a").first().click();
  await expect(page.locator("#trail")).toContainText(
    "4 projects of the whole portfolio",
  );
  await page.getByRole("link", { name: "lead Callum Reith ×" }).click();
  await expect(projects(page)).toHaveCount(26);

  await page.getByRole("link", { name: "Fold Fleet renewal" }).click();
  await expect(projects(page)).toHaveCount(19);
  await expect(
    page.getByRole("link", { name: "Unfold Fleet renewal" }),
  ).toBeFocused();
  await page.getByText("Group by").click();
  await page.getByRole("link", { name: "lead", exact: true }).click();
  await expect(page.locator("tr.group").first()).toContainText("Ada Brannock");
});

test("opens five different trails, down to their source rows", async ({
  page,
  as,
}) => {
  await as("analyst");
  // a project's spending, on the board: to a posting's row
  await page.goto("/board?cols=ac,eac_stated,risk_exposure,finish_slip,bac");
  await project(page, "FR-01").locator("td a.f").first().click();
  await expect(page.locator("#trail h1")).toContainText("Actual cost");
  await page.locator("#trail details[open] a").first().click(); // the newest
  await expect(page.locator("#trail h1")).toContainText("postings-2026-11.csv");
  await expect(page.locator("#trail")).toContainText("cost_code");
  await expect(
    page.locator("#trail tr", { hasText: "project" }).first(),
  ).toContainText("FR-01");
  // the panel stays while one moves on: plan, to a row of costs
  await project(page, "FR-01").locator("td a.f").nth(4).click();
  await expect(page.locator("#trail h1")).toContainText("Plan at completion");
  await page.locator("#trail a.place").first().click();
  await expect(page.locator("#trail h1")).toContainText("costs.csv");
  await page.goBack();
  await expect(page.locator("#trail h1")).toContainText("Plan at completion");
  // the portfolio's stated outlook, to a project's, to its forecast row
  await page.locator("tfoot td a.f").nth(1).click();
  await expect(page.locator("#trail h1")).toContainText("Stated outlook");
  await page
    .locator("#trail .facts tr", { hasText: "FR-01" })
    .getByRole("link")
    .click();
  await expect(page.locator("#trail")).toContainText("FR-01 Hybrid ferry");
  await page.locator("#trail a.place").last().click();
  await expect(page.locator("#trail tr", { hasText: "kind" })).toContainText(
    /forecast|actual/,
  );
  // a risk, and a slip, as pages of their own
  await page.goto("/trail/FR-01/risk_exposure");
  await page.locator("a.place").first().click();
  await expect(page.locator("h1")).toContainText(/risks-.*csv, row/);
  await page.goto("/trail/FR-01/finish_stated");
  await page.locator("a.place").first().click();
  await expect(page.locator("h1")).toContainText(/csv, row/);
});

test("the sheet keeps its trail open, folds codes and steps through the list", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/board?sort=-at_stake&group=none");
  const codes = await page
    .locator("table.board tbody .name .code:first-of-type")
    .allInnerTexts();
  await page.locator("table.board tbody th a").first().click();
  await expect(page.locator("h1")).toBeVisible();
  await page.evaluate(() => scrollTo(0, 600));
  const at = await page.evaluate(() => scrollY);
  await page.locator("#codes, #figures").last().scrollIntoViewIfNeeded();
  await page
    .locator("#figures tr", { hasText: "Schedule variance" })
    .first()
    .getByRole("link")
    .click();
  await expect(page.locator("#trail h1")).toContainText("Schedule variance");
  expect(await page.evaluate(() => scrollY)).toBeGreaterThan(at);
  await page.locator("#trail .inputs a, #trail .formula a").first().click();
  await expect(page.locator("#trail.open")).toBeVisible();
  const labour = page.locator(".codes tbody tr", { hasText: "Labour" });
  const spent = await labour.locator("td").nth(1).innerText();
  await labour.locator("td").nth(1).getByRole("link").click();
  await expect(page.locator("#trail")).toContainText("cost code 100");
  const exact = await page.locator("#trail .value").innerText();
  expect(Math.round(Number(exact.replaceAll(",", "")) / 1000)).toBe(
    Number(spent.replaceAll(",", "")),
  );
  const before = await page.locator(".codes tbody tr").count();
  await page.getByRole("link", { name: "Fold Labour" }).click();
  await expect(page.locator(".codes tbody tr")).toHaveCount(before - 2);
  await page.keyboard.press(".");
  await expect(page).toHaveURL(new RegExp(`/project/${codes[1]}`));
  await page.keyboard.press(".");
  await expect(page).toHaveURL(new RegExp(`/project/${codes[2]}`));
  await page.keyboard.press(",");
  await expect(page).toHaveURL(new RegExp(`/project/${codes[1]}`));
  await page.getByRole("link", { name: "by period" }).click();
  await expect(page.locator("#money h2")).toContainText("by period");
});

test("addresses that ask for what does not exist answer with a sentence", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/board?at=2031-01&in=gold");
  await expect(page.locator(".note").first()).toContainText(
    "Nothing is stated for Jan 2031",
  );
  await expect(rows(page)).toHaveCount(30);
  for (const path of [
    "/project/NOPE",
    "/trail/FR-01/nope",
    "/trail/NOPE/cpi",
  ]) {
    const answer = await page.goto(path);
    expect(answer.status()).toBe(404);
    await expect(page.locator("h1")).toContainText("There is no");
  }
  expect(complaints.splice(0).filter((c) => !c.includes("404"))).toEqual([]);
});

test("the board says how far its figures can be trusted", async ({
  page,
  as,
}) => {
  await as("analyst");
  await expect(page.locator("#trust")).toContainText(
    /The booked cost counted is what the 5,\d+ postings that are kept add up to/,
  );
  await expect(page.locator("#trust")).toContainText(
    "not compared with the ledger itself",
  );
  await expect(page.locator("#trust")).toContainText("refused");
});
