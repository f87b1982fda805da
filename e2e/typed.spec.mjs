// What is typed into any form waits until it is sent or dropped: on the page where it was
// typed, on the desk and the account's page.
import { signIn } from "./browser.mjs";
import { accessible, expect, test } from "./pages.mjs";

const kept = (page) =>
  expect(page.locator("form > .kept").first()).toContainText("not sent");

test("a question half written waits, and is gone once it is asked", async ({
  page,
  browser,
}) => {
  await signIn(page, "analyst");
  await page.goto("/ask/FR-02?about=figure+cpi");
  const text = page.getByLabel("Question", { exact: true });
  await text.fill("Why did the yard");
  await kept(page);
  await page.goto("/board"); // and another browser, another month
  const other = await (await browser.newContext()).newPage();
  await signIn(other, "analyst");
  await other.goto("/account");
  await accessible(other);
  await other.getByRole("link", { name: /^Ask about/ }).click();
  const there = other.getByLabel("Question", { exact: true });
  await expect(there).toHaveValue("Why did the yard");
  await expect(other.locator("form > .kept")).toContainText("Typed since");
  await accessible(other);
  await there.fill("Why did the yard stop?");
  await other.getByRole("button", { name: "Ask", exact: true }).click();
  await expect(other.getByText("It is asked.")).toBeVisible();
  await page.goto("/ask/FR-02?about=figure+cpi");
  await expect(text).toHaveValue("");
  await expect(page.locator("form > .kept")).toHaveCount(0);
  await other.context().close();
});

test("a record half typed waits, meets a change by its mark, and can be dropped", async ({
  page,
  browser,
  complaints,
}) => {
  await signIn(page, "administrator");
  const at = "/setup/records/programmes";
  await page.goto(at);
  await page.locator("tbody th a").first().click();
  const form = page.locator("aside form.end");
  const name = form.locator('[name="cell.name"]');
  const was = await name.inputValue();
  await name.fill("Half a name");
  await kept(page);
  const here = page.url().replace(/#.*/, "");

  const other = await (await browser.newContext()).newPage();
  await signIn(other, "analyst");
  await other.goto(here);
  await other.locator('aside [name="cell.name"]').fill(was + " anew");
  await other.getByRole("button", { name: "Keep it" }).click();
  await expect(other.getByRole("status").first()).toBeVisible();

  await page.goto(here);
  await expect(name).toHaveValue("Half a name");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("alert")).toContainText("anew"); // who changed it meanwhile, and to what
  await expect(name).toHaveValue("Half a name");
  complaints.splice(0); // of the refused form
  await page.goto(here);
  await page.getByRole("button", { name: "Drop it" }).click();
  await expect(name).toHaveValue(was + " anew");
  await name.fill(was);
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.locator("tbody")).not.toContainText("anew");
  await page.goto(here);
  await expect(page.locator("form > .kept")).toHaveCount(0);
  await other.context().close();
});

test("a plan half typed waits though rows came before; what is sent while signed out is not lost", async ({
  page,
  context,
  complaints,
}) => {
  await signIn(page, "analyst");
  await page.goto("/begin");
  await page.getByLabel("Code", { exact: true }).fill("T9");
  await page.getByLabel("Name", { exact: true }).fill("Works that never run");
  await page.locator("[name=state]").selectOption("template");
  await page.getByRole("button", { name: "Begin the project" }).click();
  await expect(page).toHaveURL(/\/plan\/T9\/activities/);
  const added = page
    .locator("form.drawing tbody tr")
    .filter({ has: page.locator('[name^="f:+0:"]') });
  const code = added.locator(".cell").first();
  await code.fill("Z9");
  await added.locator(".cell").nth(1).fill("Late works");
  await kept(page);
  await page.reload();
  await expect(code).toHaveValue("Z9");
  await expect(code).toHaveClass(/changed/);

  await context.clearCookies();
  await added.locator(".cell").nth(1).fill("Later works");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("alert").last()).toContainText(
    "You are signed out",
  );
  await expect(page).toHaveURL(/\/plan\/T9\/activities/);
  const again = await context.newPage();
  await signIn(again, "analyst");
  await again.close();
  await page.getByRole("button", { name: "Drop it" }).click();
  await expect(code).toHaveValue("");
  complaints.splice(0); // of the key that was of the session before
});
