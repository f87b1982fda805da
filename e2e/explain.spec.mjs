// The words beside the figures: whose are wanted is told, a text is begun from the figures,
// says otherwise than they do, is mended and sent by keyboard, and is asked about.
import { signIn } from "./browser.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";

test("explains what is wanted by keyboard, meets a contradiction, and sends it", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.keyboard.press("4");
  await expect(page.locator(".sentence")).toContainText(
    "1 project and 5 groups wait",
  );
  const first = page.locator("tbody tr").first();
  await expect(first).toContainText("QS-05 Slipway at Orran Bay");
  await expect(first).toContainText("wanted");
  await accessible(page);
  await first.getByRole("link").press("Enter");
  await expect(page.locator("h1")).toContainText("1 of 27, wanted");

  // A first text is the figures', until someone has made it theirs.
  await page.getByRole("button", { name: "Begin from the figures" }).click();
  const summary = page.getByRole("textbox", { name: "Summary" });
  await expect(summary).toHaveValue(/^Slipway at Orran Bay stands at Watch\./);
  await expect(page.locator("#effect")).toContainText("This is the first text");
  await page.getByRole("button", { name: "Send these words" }).click();
  await expect(page.locator(".wrong")).toContainText("words of your own first");
  complaints.splice(0); // of what was refused

  // What says otherwise than the figures is marked as one types, and nothing is changed.
  await summary.fill("All is on time, at a CPI of 0.80; SPI(t) 0.89.");
  const doubts = page.locator(".doubts li");
  await expect(doubts).toHaveCount(2);
  await expect(doubts.first()).toContainText("on time");
  await expect(doubts.first()).toContainText("Finish slip +6 d");
  await expect(doubts.last()).toContainText("CPI of 0.80");
  await expect(doubts.last()).toContainText("Cost performance index 1.01");
  await accessible(page);
  await summary.fill("Six days late, at a CPI of 1.01; SPI(t) 0.89.");
  await expect(doubts).toHaveCount(0);
  await expect(page.locator(".kept")).toContainText("Kept, and not sent yet");

  // A figure that is put in by name follows the figures.
  await summary.press("End");
  await summary.pressSequentially(" Spent {");
  const list = page.locator("[data-living]");
  await expect(list).toBeFocused();
  await list.selectOption("{ac}");
  await expect(summary).toHaveValue(/SPI\(t\) 0\.89\. Spent \{ac\}$/);
  await expect(page.locator("#effect")).toContainText("As it reads now");
  await expect(page.locator("#effect")).toContainText(/Spent €[\d.,]+ M$/m);

  // It is sent by key, the next one comes, and nobody waits any more.
  await page.locator("h1").click();
  await page.keyboard.press("s");
  await expect(page.getByRole("status").first()).toContainText(
    "The words of QS-05 are stated",
  );
  await expect(page.locator("header.bar")).toContainText(/Explain\s*5/);
  await page.goto("/project/QS-05");
  await expect(page.locator("#story")).toContainText(
    /Six days late, at a CPI of 1\.01; SPI\(t\) 0\.89\. Spent €[\d.,]+ M/,
  );
});

test("a lead reads what the figures say of theirs, writes, and others read alone", async ({
  page,
  browser,
  baseURL,
}) => {
  await page.setViewportSize({ width: 390, height: 800 });
  await signIn(page, "lead");
  await page.goto("/explain/FR-01");
  await fits(page);
  await expect(page.locator("form.stating")).toBeVisible();
  await page.goto("/explain/QS-01");
  await expect(page.locator("form.stating")).toHaveCount(0);
  await expect(page.locator("main")).toContainText(
    "Its lead and the office write these words",
  );
  const executive = await browser.newPage({ baseURL });
  await signIn(executive, "executive", baseURL);
  await executive.goto("/explain/FR-01");
  await expect(executive.locator("form.stating")).toHaveCount(0);
  await executive.close();
});

test("an analyst explains what waits by keyboard alone, up to the whole, and agrees", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.keyboard.press("4");
  await page
    .locator("tbody tr")
    .filter({ hasText: "Shore power" })
    .getByRole("link")
    .press("Enter");
  const said = [];
  for (const name of ["SP", "FR", "PS", "Whole portfolio", "QS"]) {
    await expect(page.locator("h1")).toContainText(name);
    await expect(page.locator("h1")).toContainText("wanted");
    said.push(await page.locator("h1").innerText());
    await page.keyboard.press("w");
    await expect(page.getByRole("textbox", { name: "Summary" })).toBeFocused();
    await page.keyboard.type("We stand at {standing", { delay: 2 });
    const list = page.locator("[data-living]"); // the brace opened it
    await expect(list).toBeFocused();
    await list.selectOption("{standing}");
    await page.keyboard.press("Escape");
    await page.keyboard.press("s");
    await expect(page.getByRole("status").first()).toContainText(
      "These words are said",
    );
  }
  expect(new Set(said).size).toBe(5);
  await page.keyboard.press("4");
  await expect(page.locator(".sentence")).not.toContainText("group");

  // What was said of the whole is agreed to by key, and reads so on the list; once it is said
  // otherwise it is agreed no more.
  await page.goto("/words/*");
  await expect(page.getByRole("textbox", { name: "Summary" })).toHaveValue(
    "We stand at {standing}",
  );
  await page.keyboard.press("g");
  await expect(page.locator("main")).toContainText("Agreed by Ines Marlow on");
  await accessible(page);
  await page.goto("/explain");
  await expect(
    page.locator("tr", { hasText: "Whole portfolio" }),
  ).toContainText("agreed by Ines Marlow");
  await accessible(page);
  await page.goto("/board");
  await expect(page.locator("main")).toContainText("We stand at Act");
  await page.goto("/words/*");
  await page.getByRole("textbox", { name: /^Next/ }).fill("Ice, then spring.");
  await page.getByRole("button", { name: "Send these words" }).click();
  await page.goto("/words/*");
  await expect(
    page.getByRole("button", { name: "Agree to these words" }),
  ).toBeVisible();
});

test("a lead's words go back with a question, and come again", async ({
  page,
  browser,
  baseURL,
}) => {
  await signIn(page, "analyst");
  await page.goto("/explain/FR-02");
  await page.getByRole("link", { name: /Send them back to/ }).click();
  await page.getByLabel("Question").fill("By how much?");
  await page.getByRole("button", { name: "Ask", exact: true }).click();
  await expect(page.locator(".thread")).toContainText("By how much?");
  await page.goto("/explain");
  const row = page.locator("tr", { hasText: "FR-02" });
  await expect(row).toContainText("sent back");

  const lead = await browser.newPage({ baseURL });
  await signIn(lead, "lead", baseURL);
  await lead.goto("/explain/FR-02");
  await expect(lead.locator("main")).toContainText(
    "Ines Marlow asks: By how much?",
  );
  await lead.setViewportSize({ width: 390, height: 800 });
  await fits(lead);
  await lead.getByRole("textbox", { name: "Summary" }).fill("By eleven weeks.");
  await lead.getByRole("button", { name: "Send these words" }).click();
  await expect(lead.getByRole("status").first()).toContainText(
    /Q\d+ is answered/,
  );
  await lead.close();

  await page.goto("/explain");
  await expect(row).toContainText("ready");
  await page.goto("/explain/FR-02");
  await expect(page.locator("main")).toContainText("By eleven weeks.");
  await page.getByRole("button", { name: "Agree to these words" }).click();
  await expect(page.locator("main")).toContainText("Agreed by Ines Marlow on");
});

test("the office wants one more section, and an analyst explains five projects by keyboard", async ({
  page,
  as,
}) => {
  await as("administrator");
  await page.goto("/setup/records/sections");
  const form = page.locator("#form");
  for (const [name, text] of [
    ["section", "board"],
    ["title", "Asked of the board"],
    ["place", "25"],
  ])
    await form.locator(`[name='cell.${name}']`).fill(text);
  await form.locator("[name='cell.wanted']").selectOption("watch");
  await form.getByRole("button", { name: "Keep it" }).click();
  await expect(
    page.getByRole("status").filter({ hasText: "It is kept." }),
  ).toBeVisible();

  await page.context().clearCookies();
  await as("analyst");
  await page.keyboard.press("4");
  const wait = async () =>
    Number(
      (await page.locator(".sentence").innerText()).match(/^(\d+) projects/)[1],
    );
  const before = await wait();
  const rows = page.locator("tbody tr");
  await expect(rows.first()).toContainText("wanted without Asked of the board");
  await rows.first().getByRole("link").press("Enter");
  const said = [];
  for (let i = 0; i < 5; i++) {
    await expect(page.locator("h1")).toContainText(", wanted");
    said.push(await page.locator("h1 .code").innerText());
    await page.keyboard.press("w");
    const section = page.getByRole("textbox", { name: "Asked of the board" });
    const summary = page.getByRole("textbox", { name: "Summary" });
    if ((await summary.inputValue()) === "") {
      await expect(summary).toBeFocused(); // nothing is said: it begins there
      await page.keyboard.type("As planned.");
      await section.focus();
    }
    await expect(section).toBeFocused();
    await page.keyboard.type(`A word on ${said[i]} in January.`, { delay: 2 });
    await page.keyboard.press("Escape");
    await page.keyboard.press("s");
    await expect(page.getByRole("status").first()).toContainText(
      `The words of ${said[i]} are stated`,
    );
  }
  expect(new Set(said).size).toBe(5);
  await page.keyboard.press("4");
  expect(await wait()).toBe(before - 5);
  await page.goto(`/project/${said[0]}`);
  await expect(page.locator("#story")).toContainText(
    `A word on ${said[0]} in January.`,
  );
});
