// Briefs go to their readers: sent by a button, read by a link in the letter without signing in,
// seen to be opened, sent again, revoked.
import { accessible, expect, fits, test } from "./pages.mjs";

const sentence = (page) => page.locator(".sentence").first();

test("a pack goes to two readers; a stranger opens its link until it is revoked", async ({
  page,
  as,
  browser,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/brief");
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
      .filter({ hasText: "1 brief is on its way to 2 readers." }),
  ).toBeVisible();
  const to = (name) => page.getByRole("row", { name }).first();
  await expect(to(/board@skerrow.example Portfolio brief/)).toContainText(
    "not yet",
  );

  // The letters are caught; the link of one is opened by someone who has no account.
  await expect(async () => {
    await page.goto("/letters");
    await expect(page.locator("main")).toContainText("board@skerrow.example,", {
      timeout: 500,
    });
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
  await stranger.goto(new URL("/board", address).href);
  await expect(stranger).toHaveURL(/sign-in/); // it shows that one brief and nothing else

  await page.goto("/packs");
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
