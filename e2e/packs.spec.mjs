// Briefs go to their readers: sent by a button, read by a link in the letter without signing in,
// seen to be opened, sent again, revoked.
import { accessible, expect, fits, paste, test } from "./pages.mjs";

const sentence = (page) => page.locator(".sentence").first();

// close closes Nov 2026 with a reason for whatever is left open.
const close = async (page) => {
  await page.goto("/close?at=2026-11");
  const reasons = page.locator('input[name^="reason."]');
  for (let i = 0; i < (await reasons.count()); i++)
    await reasons.nth(i).fill("Seen by the board");
  await page.getByRole("button", { name: "Close Nov 2026" }).click();
  await expect(page.getByRole("status").first()).toContainText("is closed");
};

test("after closing a pack goes to three readers; a stranger opens its link until it is revoked", async ({
  page,
  as,
  browser,
  complaints,
}) => {
  await as("analyst");
  await close(page);
  await page.goto("/brief?at=2026-11");
  await page
    .getByRole("link", { name: "Send briefs to their readers" })
    .click();
  await expect(sentence(page)).toContainText(
    "2 packs can be sent for Nov 2026",
  );
  await accessible(page);
  await fits(page);
  const board = page.getByRole("row", { name: /Harbour board/ });
  await board.getByRole("button", { name: "Send for Nov 2026" }).click();
  await expect(
    page
      .getByRole("status")
      .filter({ hasText: "1 brief is on its way to 3 readers." }),
  ).toBeVisible();
  const to = (name) => page.getByRole("row", { name }).first();
  await expect(to(/board@skerrow.example Portfolio brief/)).toContainText(
    "not yet",
  );

  // The letters are caught; the link of one is opened by someone who has no account.
  await expect(async () => {
    await page.goto("/letters");
    const letters = page.locator("article", {
      hasText: "Portfolio brief: Skerrow Sound, Nov 2026",
    });
    await expect(letters).toHaveCount(3, { timeout: 500 });
  }).toPass();
  const letter = page
    .locator("main")
    .getByText("board@skerrow.example,")
    .first();
  const address = (await letter.innerText()).match(/http:\S+\/shared\/\w+/)[0];
  const context = await browser.newContext();
  const stranger = await context.newPage();
  await stranger.goto(address);
  await expect(stranger.locator("h1")).toHaveText(
    "Portfolio brief: Skerrow Sound, Nov 2026",
  );
  await accessible(stranger);
  const [file] = await Promise.all([
    stranger.waitForEvent("download"),
    stranger.getByRole("link", { name: "slides" }).click(),
  ]);
  expect(file.suggestedFilename()).toMatch(/Nov 2026\.pptx$/);
  // What they ask comes back as a question on the figure that they point at.
  await stranger.getByLabel("Project, by its code").fill("qs-07");
  await stranger.getByLabel("Its figure").selectOption("cpi");
  await stranger.getByLabel("What you ask").fill("Why did it fall so far?");
  await stranger.getByRole("button", { name: "Send it to the office" }).click();
  await expect(stranger.getByRole("status")).toContainText(
    "The office is asked",
  );
  await accessible(stranger);
  await stranger.setViewportSize({ width: 390, height: 800 });
  await fits(stranger);
  await stranger.goto(new URL("/board", address).href);
  await expect(stranger).toHaveURL(/sign-in/); // it shows that one brief and nothing else

  await page.goto("/questions?show=mine");
  const asked = page.locator("tr", { hasText: "Why did it fall so far?" });
  await expect(asked).toContainText("QS-07");
  await expect(asked).toContainText("Cost performance index");
  await expect(asked).toContainText("board@skerrow.example");

  await page.goto("/packs?at=2026-11");
  await expect(to(/board@skerrow.example Portfolio brief/)).not.toContainText(
    "not yet",
  );
  await page
    .getByRole("button", { name: "Revoke the link of board@skerrow.example" })
    .first()
    .click();
  await expect(
    page.getByRole("status").filter({ hasText: "The link is revoked" }),
  ).toBeVisible();
  const gone = await stranger.goto(address);
  expect(gone.status()).toBe(404);
  await expect(stranger.locator("h1")).toHaveText(
    "This link does not open anything",
  );
  await context.close();
  complaints.splice(0).filter((c) => !c.includes("404"));

  // Sent again, the link of before opens nothing any more.
  await page
    .getByRole("button", { name: "Send again to Tor Lindqvist" })
    .first()
    .click();
  await expect(
    page.getByRole("status").filter({ hasText: "It is sent again" }),
  ).toBeVisible();
  await expect(to(/Tor Lindqvist Portfolio brief.*again/)).toBeVisible();
});

test("a pack is set up, and says at once whom it does not reach", async ({
  page,
  as,
  complaints,
}) => {
  await as("administrator");
  await page.goto("/setup/records/packs");
  const form = page.locator("#form");
  await form.locator("[name='cell.pack']").fill("QUAYS");
  await form.locator("[name='cell.name']").fill("Quays weekly");
  await form.locator("[name='cell.scopes']").fill("QS");
  await form
    .locator("[name='cell.readers']")
    .fill("nobody, yard@elsewhere.example");
  await form.locator("[name='cell.send']").fill("each Moonday");
  await form.getByRole("button", { name: "Keep it" }).click();
  await expect(form).toContainText('"each moonday" is no time to send');
  await form.locator("[name='cell.send']").fill("each Monday");
  await form.getByRole("button", { name: "Keep it" }).click();
  await expect(
    page.getByRole("status").filter({ hasText: "It is kept." }),
  ).toBeVisible();
  expect(complaints.splice(0).filter((c) => !c.includes("422"))).toEqual([]);
  await page.context().clearCookies();
  await as("analyst");
  await page.goto("/packs");
  await expect(page.getByRole("row", { name: /Quays weekly/ })).toContainText(
    "nobody signs in as nobody",
  );
});

test("after a period is opened and closed again, a correction says what changed", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  const send = async () => {
    await page.goto("/packs?at=2026-11");
    await page
      .getByRole("row", { name: /Harbour board/ })
      .getByRole("button", { name: "Send for Nov 2026" })
      .click();
    await expect(
      page.getByRole("status").filter({ hasText: "to 3 readers" }),
    ).toBeVisible();
  };
  await send();
  await page.goto("/close?at=2026-11");
  await page.getByLabel("Reason").fill("A late invoice of the workshop");
  await page.getByRole("button", { name: "Open Nov 2026 again" }).click();
  await paste(
    page,
    "project,cost_code,kind,class,period,amount\nFR-05,110,actual,opex,2026-11,91234.50\n",
  );
  await page.getByRole("button", { name: "Accept" }).click();
  await page.waitForURL(/run/);
  await close(page);
  await send();
  await expect(async () => {
    await page.goto("/letters");
    const letter = page
      .locator("article", { hasText: "Corrected: Portfolio brief" })
      .first();
    await expect(letter).toContainText("What has changed", { timeout: 500 });
    await expect(letter).toContainText(
      /Engine-room monitoring: actual cost [\d,.]+, was [\d,.]+/,
    );
  }).toPass({ timeout: 30_000 });
  expect(complaints.splice(0).filter((c) => !c.includes("422"))).toEqual([]);
});

test("packs come to begin with; readers tell the office what they think, and it answers and tells news", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/packs");
  await page
    .getByRole("button", { name: "Set up What needs a decision" })
    .click();
  await expect(
    page.getByRole("status").filter({ hasText: "with you as its reader" }),
  ).toBeVisible();
  await expect(
    page.getByRole("row", { name: /DECIDE What needs a decision/ }),
  ).toContainText("ines");
  await page.goto("/setup/records/news");
  const form = page.locator("#form");
  await form.locator("[name='cell.news']").fill("SPRING");
  await form.locator("[name='cell.text']").fill("The yards close on Friday.");
  await form.locator("[name='cell.from']").fill("2026-01-01");
  await form.locator("[name='cell.until']").fill("2027-12-31");
  await form.getByRole("button", { name: "Keep it" }).click();
  await expect(
    page.getByRole("status").filter({ hasText: "It is kept." }),
  ).toBeVisible();

  await page.context().clearCookies();
  await as("executive");
  await page.goto("/exceptions?cause=over");
  await expect(page.locator("main")).toContainText(
    "The yards close on Friday.",
  );
  await page.locator(".account .menu").click();
  await page.getByRole("link", { name: "Tell the office about this" }).click();
  await page.getByLabel("About /exceptions?cause=over").fill("Sort by lead?");
  await page.getByRole("button", { name: "Tell the office" }).click();
  await expect(page.locator("main")).toContainText("not answered yet");
  await accessible(page);

  await page.context().clearCookies();
  await as("analyst");
  await page.goto("/questions");
  await page.getByRole("link", { name: "1 piece of feedback waits" }).click();
  const item = page.locator("li", { hasText: "Sort by lead?" });
  await item
    .getByRole("textbox", { name: "Answer" })
    .fill("By the menu of views.");
  await item.getByRole("button", { name: "Answer" }).click();
  await expect(item).toContainText("By the menu of views.");
  await accessible(page);

  // The office sets what executives begin with.
  await page.goto("/page?arrange=1&blocks=12:sum+6:trend+6:decide");
  await page.getByLabel("First page of each").selectOption("executive");
  await page.getByRole("button", { name: "Let it be this one" }).click();
  await expect(
    page.getByRole("status").filter({ hasText: "Each executive begins" }),
  ).toBeVisible();
  await page.context().clearCookies();
  await as("executive");
  await page.goto("/");
  await expect(page).toHaveURL(/\/page/);
  await expect(page.locator(".grid-12 > section")).toHaveCount(3);
  await page.getByRole("link", { name: "As a brief" }).click();
  await expect(page.locator("ol.pagelist")).toContainText(
    "How it moved: computed outlook",
  );
});
