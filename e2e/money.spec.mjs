// Money: read by programme, class and quarter beside last period at constant
// rates; an actual drilled to its postings; the table taken out with the same
// sums; and the change of the outlook explained down to the lines.
import { accessible, expect, fits, test } from "./pages.mjs";

const choose = async (page, menu, item) => {
  const m = page.locator(".tools .dropdown", {
    has: page.locator(".menu", { hasText: new RegExp("^" + menu) }),
  });
  const before = page.url();
  await m.locator(".menu").click();
  await m.getByRole("link", { name: item, exact: true }).click();
  await page.waitForURL((url) => url.href !== before);
  await expect(m).not.toHaveAttribute("open", "");
};

// cells parts a line of CSV.
const cells = (line) =>
  [...line.matchAll(/(?:^|,)(?:"((?:[^"]|"")*)"|([^,]*))/g)].map((m) =>
    (m[1] ?? m[2]).trim(),
  );

// amount reads a number as the page writes it.
const amount = (text) =>
  Number(text.replaceAll(",", "").replaceAll("−", "-").replaceAll("+", ""));

test("reads the table by programme, class and quarter against last period", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/board");
  await page.getByRole("link", { name: "Money table", exact: true }).click();
  await expect(page.locator(".sentence")).toContainText(
    "The portfolio will have spent",
  );
  await accessible(page);
  await choose(page, "Rows", "programme, class");
  await choose(page, "Columns", "quarters");
  await choose(page, "Beside", "as stated in Oct 2026");
  await choose(page, "In", "constant plan rates");
  await choose(page, "Beside", "the change");
  await expect(page).toHaveURL(/rows=programme%2Cclass/);
  await expect(page.locator("caption")).toContainText("constant plan rates");
  await expect(page.locator("thead")).toContainText("Oct 2026 said");
  await expect(page.locator("thead")).toContainText("Currency effect");
  await choose(page, "Show", "how FY27 ends, and what is left");
  await expect(page.locator("thead")).toContainText("Outlook FY27");
  await expect(page.locator("tfoot td").last()).toHaveText(/^\d+\.\d\d$/); // periods left
  await accessible(page);
  await fits(page);

  // It is kept under a name, and opens again as it was.
  await page.locator(".tools .menu", { hasText: "Views" }).click();
  await page.getByLabel("Save this as").fill("Quarters by class");
  await page.getByRole("button", { name: "Save this view" }).click();
  await page.goto("/views");
  await page.getByRole("link", { name: "Quarters by class" }).click();
  await expect(page).toHaveURL(/per=quarter.*rates=plan/);
  await page.goto(page.url() + "&vs=2026-10");

  // The rows of the programmes add up to the foot, in the rounding it owns to.
  const totals = await page
    .locator(".moneytable tbody tr.group td.total")
    .evaluateAll((l) => l.map((td) => td.querySelector("a, span").title));
  const foot = await page
    .locator(".moneytable tfoot td.total a")
    .getAttribute("title");
  const exact = (t) => Math.round(amount(t.split(" ")[0]) * 100);
  expect(totals.reduce((s, t) => s + exact(t), 0)).toBe(exact(foot));

  // The table taken out says the same.
  const link = await page
    .getByRole("link", { name: "CSV", exact: true })
    .getAttribute("href");
  const text = await (await page.request.get(link)).text();
  const [head, ...rows] = text.trim().split("\n").map(cells);
  const at = head.indexOf("FY27");
  const leaves = rows
    .filter((r) => r[0] === "2")
    .reduce((s, r) => s + Math.round(Number(r[at]) * 100), 0);
  expect(leaves).toBe(exact(foot));
});

test("drills an actual to its postings, which add up to it", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/money?amounts=actual&rows=programme,code");
  await page.locator(".moneytable tfoot td.past a").first().click();
  await expect(page.locator("main")).toContainText("add up to it, to the cent");
  await accessible(page);
  await page.getByRole("link", { name: /FR-01/ }).click();
  await expect(page.locator("h1")).toContainText("Actual, booked");
  await page.locator(".behind details summary").first().click();
  const row = page.locator(".behind tbody tr").first();
  const posted = await row
    .locator("details p")
    .evaluateAll((l) =>
      l.map((p) =>
        p.textContent.split(" · ")[2].replace(/,/g, "").replace("−", "-"),
      ),
    );
  const sum = posted.reduce((s, t) => s + Math.round(parseFloat(t) * 100), 0);
  const stated = await row.locator("td.n").nth(0).innerText();
  const counted = await row.locator("td.n").nth(1).innerText();
  expect(sum).toBe(Math.round(amount(stated.split(" ")[0] || counted) * 100));
  await row.getByRole("link").first().click();
  await expect(page.locator("main")).toContainText("A row as it came");
});

test("explains the change of the outlook by a bridge down to the lines", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/money");
  await page.getByRole("link", { name: "Bridge", exact: true }).click();
  await expect(page.locator(".sentence")).toContainText("choose under Beside");
  complaints.splice(0); // the bridge without a second version
  await choose(page, "From", "as stated in Oct 2026");
  await expect(page.locator(".sentence")).toContainText("than Oct 2026 said");
  await accessible(page);
  await fits(page);
  const cents = (t) => Math.round(amount(t.split(" ")[0]) * 100);
  const steps = await page
    .locator(".bridgesteps tbody td.n")
    .evaluateAll((l) => l.map((td) => td.textContent));
  const list = steps.map(cents);
  expect(list.slice(0, -1).reduce((a, b) => a + b)).toBe(list.at(-1));
  await page
    .getByRole("link", { name: "More or less of the same", exact: true })
    .click();
  await choose(page, "Within a cause by", "line");
  await expect(
    page.getByRole("heading", { name: "More or less of the same, by line" }),
  ).toBeVisible();
  await accessible(page);
  await page.locator(".bridgeparts tbody th a").first().click();
  await page.waitForURL(/\/money\?/);
  await expect(page.locator("thead")).toContainText("Oct 2026 said");
  await expect(page.locator(".moneytable td.differs").first()).toBeVisible();
});

test("the executive reads it, on a phone too", async ({ page, as }) => {
  await as("executive");
  for (const path of [
    "/money?vs=2026-10&row=all",
    "/money/bridge?vs=2026-10",
    "/money/cell?column=3&cause=running",
  ]) {
    for (const width of [390, 1280]) {
      await page.setViewportSize({ width, height: 800 });
      await page.goto(path);
      await fits(page);
    }
    await expect(
      page.locator('main form[method="post"]:not([action="/views"])'),
    ).toHaveCount(0);
    await accessible(page);
  }
});

test("the change of the outlook is explained down to the lines, and goes into the brief", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/money/bridge?vs=2026-08");
  await choose(page, "Of", "the computed outlook");
  await expect(page.locator(".sentence")).toContainText(
    "The portfolio is expected to cost",
  );
  await accessible(page);
  await fits(page);

  // The steps lead from one outlook to the other, to the cent.
  const column = await page
    .locator("table.bridgesteps tbody td")
    .allTextContents();
  const cents = column.map((x) => Math.round(amount(x.split(" ")[0]) * 100));
  expect(cents.slice(0, -1).reduce((a, b) => a + b, 0)).toBe(cents.at(-1));
  const said = (await page.locator(".sentence").textContent()).trim();

  // A cause, a project in it, and what was spent there by cost code.
  await page
    .locator("table.bridgesteps")
    .getByRole("link", { name: "Actuals" })
    .click();
  await expect(
    page.getByRole("heading", { name: "Actuals, by project" }),
  ).toBeVisible();
  await page.getByRole("link", { name: "North quay piling" }).click();
  await expect(
    page.getByRole("heading", { name: "Actuals, by cost code" }),
  ).toBeVisible();
  await expect(page.getByRole("row", { name: /^Earned share/ })).toContainText(
    "%",
  );
  await page.getByRole("link", { name: "Works and supplies" }).click();
  await page.waitForURL(/\/money\?/);
  await expect(page.locator("main table").first()).toContainText("Works");

  // The bridge of the portfolio becomes a page of the brief, second of all.
  await page.goto("/money/bridge?vs=2026-08&amounts=outlook");
  await page.getByRole("link", { name: "Take it into a brief" }).click();
  const paper = page.locator(".paper svg");
  await expect(paper).toBeVisible();
  await expect(page.locator(".pagelist li").nth(1)).toContainText(
    "Why it changed: the outlook",
  );
  const words = (text) => text.replace(/\s+/g, "");
  expect(words(await paper.textContent())).toContain(words(said));
  await page.getByRole("link", { name: "Add a bridge" }).click();
  await page.waitForURL(/\/money\/bridge/);
  await page.getByRole("link", { name: "Take it into a brief" }).click();
  await page.waitForURL(/\/brief/);
  await expect(page.locator(".pagelist li")).toHaveCount(8); // the same bridge is in it once
  const html = await page.request.get(
    await page.getByRole("link", { name: "HTML" }).first().getAttribute("href"),
  );
  expect(await html.text()).toContain("Why it changed");
});

test("rows are narrowed from their heads, and the table to some of its money", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/money?rows=programme,class&per=quarter");
  const rows = page.locator(".moneytable tbody tr");
  const all = await rows.count();
  const head = page.locator(".headfilter", { hasText: "Class" });
  await head.locator(".menu").click();
  await head.getByLabel("Class").selectOption("capex");
  await head.getByRole("button", { name: "Show" }).click();
  await page.waitForURL(/class=capex/);
  await expect(rows.filter({ hasText: "opex" })).toHaveCount(0);
  expect(await rows.count()).toBeLessThan(all);
  await expect(page.locator(".tools")).toContainText("Only capex");
  await accessible(page);

  // Any other money is chosen in one form; the rows stay as they are.
  const only = page.locator(".tools .dropdown", {
    has: page.locator(".menu", { hasText: /^Only/ }),
  });
  await only.locator(".menu").click();
  await only.getByLabel("Class").selectOption("");
  await only.getByLabel("Cost centre").selectOption("SF");
  await only.getByRole("button", { name: "Show" }).click();
  await page.waitForURL(/centre=SF/);
  await expect(page.locator(".tools")).toContainText("Only SF");
  await expect(rows.filter({ hasText: "opex" })).not.toHaveCount(0);
  await page.goto("/money?amounts=plan,running,outlook&per=completion");
  await expect(page.locator("main")).toContainText(
    "The computed outlook is of whole projects",
  );
});
