// A month is stated by its lead: from the desk to sent, by keyboard alone; by a deputy;
// by an analyst on a lead's behalf; by two who meet in one cell.
import { signIn } from "./browser.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";

const kept = (page) =>
  expect(page.locator(".kept")).toHaveText(/Kept, and not sent yet/);
const press = async (page, keys) => {
  for (const k of keys) await page.keyboard.press(k);
};

test("what did not come is moved on and kept by keys, and taken back", async ({
  page,
  browser,
}) => {
  const office = await (await browser.newContext()).newPage();
  await signIn(office, "analyst");
  await office.goto("/gather");
  await signIn(page, "lead");
  await page.goto("/state/QS-05/forecast");
  const form = page.locator("form.stating");
  await expect(form).toContainText("Nothing is booked for Nov 2026 yet");
  await office.getByText("Paste rows from a spreadsheet").click();
  await office
    .getByLabel("The rows, with their heads")
    .fill(
      "posting,date,project,cost_code,class,amount,currency\nLATE-1,2026-11-20,QS-05,110,opex,20000,EUR\nLATE-2,2026-11-20,QS-05,120,opex,20000,EUR\n",
    );
  await office.getByRole("button", { name: "Look at them" }).click();
  await office.getByRole("button", { name: "Accept" }).click();
  await office.waitForURL(/gather\/run/);
  await office.context().close();

  await page.reload();
  const rows = form.locator("tbody tr");
  const cells = (r) => rows.nth(r).locator(".cell");
  const before = [0, 1].map((r) => cells(r).nth(1).inputValue());
  const [own, contract] = await Promise.all(before);
  const rest = async (r) =>
    Number(
      (await rows.nth(r).locator(".was").first().textContent()).replaceAll(
        ",",
        "",
      ),
    );
  const [missed, other] = [await rest(0), await rest(1)];
  await press(page, ["w", "m", "Enter", "k"]);
  await kept(page);
  await expect(cells(0).nth(1)).toHaveValue((Number(own) + missed).toFixed(2));
  await expect(cells(0).nth(1)).toHaveClass(/changed/);
  // What is kept is spread: the amounts of the line grow by it together.
  const sum = async (r, of) => {
    let cents = 0;
    for (const x of await cells(r).all())
      cents += Math.round(100 * Number((await x.getAttribute(of)) ?? 0)) || 0;
    return cents;
  };
  await expect(cells(1).nth(1)).not.toHaveValue(contract);
  const now = async (r) => {
    let cents = 0;
    for (const x of (await cells(r).all()).slice(1))
      cents += Math.round(100 * Number(await x.inputValue()));
    return cents;
  };
  const stood = (await sum(1, "data-is")) + Math.round(100 * other);
  expect(await now(1)).toBe(stood);
  await page.reload();
  await expect(cells(0).first()).toHaveValue("move on");
  await expect(cells(1).first()).toHaveValue("keep");
  await cells(0).first().focus();
  await page.keyboard.press("d");
  await expect(cells(0).nth(1)).toHaveValue(own);
  await page.keyboard.press("Control+z");
  await expect(cells(0).nth(1)).toHaveValue((Number(own) + missed).toFixed(2));
  await page.getByRole("button", { name: "Drop what I typed here" }).click();
  await expect(cells(0).first()).toHaveValue("");
  await expect(cells(0).nth(1)).toHaveValue(own);
});

test("a lead states a project by keyboard alone, from desk to sent", async ({
  page,
}) => {
  let keys = 0;
  const count = async (list) => {
    keys += list.length;
    await press(page, list);
  };
  const write = async (text) => {
    keys += text.length;
    await page.keyboard.type(text);
  };
  await signIn(page, "lead");
  await expect(page).toHaveURL(/\/desk/);
  await expect(page.locator(".sentence")).toHaveText(
    /You owe 2 statements for Nov 2026, one of them late/,
  );
  await accessible(page);
  await count(["n"]); // the first project that owes something
  await expect(page.getByRole("heading", { level: 1 })).toContainText(
    "Slipway at Orran Bay",
  );
  const first = page.locator("input.cell").first();
  const row = (await first.getAttribute("name")).slice(2, -"/percent".length);
  await count(["w"]);
  await write("77");
  await kept(page);
  await expect(page.locator("#effect")).toContainText("EV ");
  await expect(page.locator("#effect")).toContainText("CPI ");
  await accessible(page);
  await fits(page);
  await count(["Escape", "n"]);
  await expect(page.locator(".parts [aria-current]")).toContainText("Forecast");
  await count(["w", "Tab"]); // past what did not come, which the line begins with
  await write("31 000");
  await count(["Enter"]); // down to the next line
  await write("24 000");
  await kept(page);
  await expect(page.locator("#effect")).toContainText("EAC");
  await expect(page.locator("#effect")).toContainText("It needs a CPI of");
  await count(["Escape", "n"]);
  await expect(page.locator(".parts [aria-current]")).toContainText("Risks");
  await count(["w", "Tab", "Tab", "4"]);
  await kept(page);
  await count(["Escape", "n"]);
  const sent = page.getByRole("region", { name: "What is sent" });
  await expect(sent).toContainText("31 000");
  await expect(sent).toContainText("24 000");
  await expect(sent).toContainText("77");
  await accessible(page);
  await fits(page);
  await count(["s"]);
  await expect(page.getByRole("status").first()).toContainText(
    "Sent: QS-05 is stated for Nov 2026",
  );
  await count(["0"]);
  await expect(page.locator(".sentence")).toHaveText(
    /You have stated all that is owed/,
  );
  expect(keys).toBeLessThan(40);
  await page.goto("/state/QS-05/progress");
  await expect(page.locator(`[name="f:${row}/percent"]`)).toHaveValue("77");
});

test("what is typed survives the page, the browser and a session that ran out", async ({
  page,
  context,
  browser,
  baseURL,
}) => {
  await signIn(page, "lead");
  await page.goto("/state/FR-01/narratives");
  const text = page.locator('[name="f:help/text"]');
  await text.fill("A berth for the trials.");
  await kept(page);
  await page.goto("/desk");
  await expect(page.locator("tr", { hasText: "FR-01" })).toContainText("typed");
  await context.clearCookies();
  await page.goto("/state/FR-01/narratives");
  await expect(page).toHaveURL(/sign-in/);
  const other = await (await browser.newContext({ baseURL })).newPage();
  await signIn(other, "lead");
  await other.goto("/state/FR-01/narratives");
  await expect(other.locator('[name="f:help/text"]')).toHaveValue(
    "A berth for the trials.",
  );
  await expect(other.locator(".kept")).toContainText("Typed since");
  await other.getByRole("button", { name: "Drop what I typed here" }).click();
  await expect(other.locator('[name="f:help/text"]')).not.toHaveValue(
    "A berth for the trials.",
  );
  await other.context().close();
});

test("a block from a spreadsheet is pasted and kept; what lies outside is told", async ({
  page,
}) => {
  await signIn(page, "lead");
  await page.goto("/state/FR-02/forecast");
  const cells = page.locator("input.cell");
  const paste = (text) =>
    cells.first().evaluate((cell, text) => {
      const clipboardData = new DataTransfer();
      clipboardData.setData("text/plain", text);
      cell.dispatchEvent(
        new ClipboardEvent("paste", {
          clipboardData,
          bubbles: true,
          cancelable: true,
        }),
      );
    }, text);
  await cells.first().focus();
  await paste("1000\t2000\n3000\t4000\n");
  await kept(page);
  await page.reload();
  await expect(cells.first()).toHaveValue("1000");
  await expect(cells.nth(1)).toHaveValue("2000");
  await expect(page.getByRole("alert")).toHaveCount(0);
  await cells.first().focus();
  await paste("5\n".repeat(40));
  await expect(page.getByRole("alert")).toContainText("lie outside the table");
  await page.keyboard.press("Control+z");
  await expect(cells.first()).toHaveValue("1000");
  await page.getByRole("button", { name: "Close" }).click();
  await cells.first().fill("7");
  await page.keyboard.press("Tab");
  await page.keyboard.type("8");
  await page.keyboard.press("Tab"); // what was typed is taken back cell by cell, and done again
  await page.keyboard.press("Control+z");
  await expect(cells.nth(1)).toHaveValue("2000");
  await page.keyboard.press("Control+z");
  await expect(cells.first()).toHaveValue("1000");
  await page.keyboard.press("Control+y");
  await expect(cells.first()).toHaveValue("7");
  await page.goto("/board"); // at once, by the address
  await page.goto("/state/FR-02/forecast");
  await expect(cells.first()).toHaveValue("7");
  await expect(cells.nth(1)).toHaveValue("2000");
  await page.getByRole("button", { name: "Drop what I typed here" }).click();
  await expect(cells.first()).not.toHaveValue("7");
});

test("a block is chosen, copied, filled, pasted over, emptied and taken back", async ({
  page,
  context,
}) => {
  await context.grantPermissions(["clipboard-read", "clipboard-write"]);
  await signIn(page, "lead");
  await page.goto("/state/FR-02/forecast");
  const rows = page.locator("form.stating tbody tr");
  const at = (r, c) => rows.nth(r).locator("input.cell").nth(c);
  const block = page.locator(".cell.chosen");
  const clipboard = () => page.evaluate(() => navigator.clipboard.readText());
  const before = [];
  for (let r = 0; r < 3; r++)
    before.push([await at(r, 1).inputValue(), await at(r, 2).inputValue()]);
  expect(new Set(before.flat()).size).toBeGreaterThan(2);

  await at(0, 1).click();
  await press(page, ["Shift+ArrowDown", "Shift+ArrowDown", "Shift+ArrowRight"]);
  await expect(block).toHaveCount(6);
  await expect(at(2, 2)).toBeFocused();
  await page.keyboard.press("Control+c");
  expect(await clipboard()).toBe(before.map((r) => r.join("\t")).join("\r\n"));

  await page.keyboard.press("Control+d");
  for (let r = 0; r < 3; r++)
    for (let c = 0; c < 2; c++)
      await expect(at(r, c + 1)).toHaveValue(before[0][c]);
  await expect(block).toHaveCount(6);
  await page.keyboard.press("Delete");
  await expect(at(1, 1)).toHaveValue("");
  await kept(page);
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  for (let r = 0; r < 3; r++)
    for (let c = 0; c < 2; c++)
      await expect(at(r, c + 1)).toHaveValue(before[r][c]);

  // One value is pasted over the whole block; what is chosen by the mouse is too.
  await page.evaluate(() => navigator.clipboard.writeText("4321"));
  await at(0, 1).click();
  await at(2, 2).click({ modifiers: ["Shift"] });
  await expect(block).toHaveCount(6);
  await page.keyboard.press("Control+v");
  await expect(at(0, 1)).toHaveValue("4321");
  await expect(at(2, 2)).toHaveValue("4321");
  await page.keyboard.press("ArrowUp"); // without Shift the block is over
  await expect(block).toHaveCount(0);
  await page.keyboard.press("Control+d"); // the cell above is repeated
  await expect(page.getByRole("alert")).toHaveCount(0);
  await page.getByRole("button", { name: "Drop what I typed here" }).click();
  await expect(at(0, 1)).toHaveValue(before[0][0]);
});

test("cells typed faster than they are kept, and by one who is signed out, are not lost", async ({
  page,
  context,
  complaints,
}) => {
  await signIn(page, "lead");
  await page.goto("/state/FR-01/forecast");
  await page.keyboard.press("w");
  for (const text of ["101", "102", "103", "104"]) {
    await page.keyboard.type(text);
    await page.keyboard.press("Enter"); // each begins to be kept while the one before is
  }
  await kept(page);
  const below = (r) =>
    page.locator("form.stating tbody tr").nth(r).locator("input.cell").first();
  await page.reload();
  for (const r of [0, 1, 2, 3])
    await expect(below(r)).toHaveValue(`${101 + r}`);

  await context.clearCookies();
  await page.keyboard.press("w");
  await page.keyboard.type("201");
  await page.keyboard.press("Enter");
  await expect(page.locator(".kept")).toContainText("you are signed out");
  await expect(below(0)).toHaveValue("201");
  const again = await context.newPage();
  await signIn(again, "lead");
  await again.close();
  await page.keyboard.type("202");
  await page.keyboard.press("Enter");
  await kept(page);
  complaints.splice(0); // of the key that was of the session before
  await page.reload();
  await expect(below(0)).toHaveValue("201");
  await expect(below(1)).toHaveValue("202");
  await page.getByRole("button", { name: "Drop what I typed here" }).click();
});

test("of a plan of many periods every cell is reached by keys, and kept", async ({
  page,
}) => {
  await signIn(page, "analyst");
  await page.goto("/plan/T-QUAY/money?until=2034-12");
  const grid = page.locator(".grid.large");
  await expect(grid).toHaveCount(1);
  expect(await page.locator("td.far").count()).toBeGreaterThan(100);
  const rows = grid.locator("tbody tr");
  const last = rows.nth(0).locator(".cell").last();
  await rows.nth(0).locator("td").last().scrollIntoViewIfNeeded();
  await last.click();
  await page.keyboard.press("ArrowUp"); // there is none above
  await expect(last).toBeFocused();
  await page.keyboard.type("12");
  await page.keyboard.press("Tab"); // to a cell that was not drawn
  await expect(rows.nth(1).locator(".cell").first()).toBeFocused();
  await page.keyboard.press("Shift+Tab");
  await expect(last).toBeFocused();
  for (let n = 0; n < 40; n++) await page.keyboard.press("ArrowLeft");
  await expect(page.locator(":focus")).toBeInViewport();
  const name = await last.getAttribute("name");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("status").first()).toContainText("one change");
  await expect(page.locator(`[name="${name}"]`)).toHaveValue("12");
  await page.goto("/plan/T-QUAY/money?until=2034-12");
  await expect(page.locator(`[name="${name}"]`)).toHaveValue("12");
});

test("an analyst states on a lead's behalf, and two in one cell both are told", async ({
  page,
  browser,
  baseURL,
  complaints,
}) => {
  await signIn(page, "analyst");
  await page.goto("/gather");
  await page
    .locator(".matrix-in")
    .getByRole("link", { name: /^Risks of FR-01/ })
    .click();
  await expect(page.locator(".parts [aria-current]")).toContainText("Risks");
  await page.locator('[name="f:R1/impact"]').fill("5");
  await kept(page);
  const lead = await (await browser.newContext({ baseURL })).newPage();
  await signIn(lead, "lead");
  await lead.goto("/state/FR-01/risks");
  await lead.locator('[name="f:R1/impact"]').fill("1");
  await kept(lead);
  await lead.goto("/state/FR-01/send");
  await lead.getByRole("button", { name: "Send the statement" }).click();
  await expect(lead.getByRole("status").first()).toContainText("Sent: FR-01");
  await page.goto("/state/FR-01/send");
  await page.getByRole("button", { name: "Send the statement" }).click();
  await expect(page.getByRole("alert")).toContainText(
    "someone else has stated “1” since",
  );
  complaints.splice(0); // the form that was refused
  await page.goto("/state/FR-01/risks");
  await expect(page.getByText("now stated: 1")).toBeVisible();
  await page.getByRole("button", { name: "Keep mine" }).click();
  await page.goto("/state/FR-01/send");
  await page.getByRole("button", { name: "Send the statement" }).click();
  await expect(page.getByRole("status").first()).toContainText("Sent: FR-01");
  await page.goto("/history");
  await expect(page.locator("tbody")).toContainText("FR-01 for Nov 2026");
  await lead.context().close();
});

test("progress, risks and words are stated on a phone", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 800 });
  await signIn(page, "lead");
  for (const part of ["progress", "risks", "narratives"]) {
    await page.goto(`/state/FR-02/${part}`);
    await fits(page);
    await accessible(page);
  }
  await page.locator('[name="f:next/text"]').fill("Sea trials.");
  await kept(page);
  await page.goto("/state/FR-02/send");
  await fits(page);
  await page.getByRole("button", { name: "Send the statement" }).click();
  await expect(page.getByRole("status").first()).toContainText("Sent: FR-02");
});
