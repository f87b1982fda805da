// What is asked back: from a figure's trail to the lead's desk and back, with the letters
// that tell of it; the same on a phone.
import { signIn } from "./browser.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";

// caught waits for a letter among those that the demonstration keeps.
const caught = (page, subject) =>
  expect(async () => {
    await page.goto("/letters");
    await expect(page.locator("main")).toContainText(subject, {
      timeout: 1_000,
    });
  }).toPass({ timeout: 30_000 });

test("an analyst asks from a trail, the lead answers, and letters tell of it", async ({
  page,
  browser,
}) => {
  await signIn(page, "analyst");
  await page.goto("/project/FR-02?trail=FR-02/cpi");
  await page.getByRole("link", { name: "Ask about this figure" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(
    "Ask about Cost performance index",
  );
  await accessible(page);
  await page.getByLabel("Question").fill("What changed\nsince October?");
  await page.getByRole("button", { name: "Ask", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(
    "waits for Ada Brannock since today",
  );
  const question = new URL(page.url()).pathname;
  await caught(page, "FR-02: Ines Marlow asks about Cost performance index");

  const lead = await browser.newPage();
  await signIn(lead, "lead");
  await lead.goto("/desk");
  await lead.getByRole("link", { name: /What changed/ }).click();
  await expect(lead.getByRole("heading", { level: 1 })).toContainText(
    "waits for you",
  );
  await lead.getByLabel("Your answer").fill("The engines were invoiced.");
  await accessible(lead);
  await lead.getByRole("button", { name: "Answer" }).click();
  await expect(lead.locator(".thread")).toContainText(
    "The engines were invoiced.",
  );
  await lead.setViewportSize({ width: 390, height: 780 });
  await lead.goto("/questions?show=all");
  await fits(lead);
  await lead.goto(question);
  await fits(lead);

  await caught(
    page,
    "FR-02: Ada Brannock answers about Cost performance index",
  );
  await expect(page.locator("main")).toContainText(question);

  await page.goto("/questions?show=mine");
  await page.getByRole("link", { name: /What changed/ }).click();
  await expect(page.locator(".thread li")).toHaveCount(2);
  await page.getByLabel("Your answer").fill("Thank you.");
  await page.getByRole("button", { name: "Close the question" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("closed");
  await page.goto("/project/FR-02#questions");
  await expect(page.locator("#questions")).toContainText("What changed");
  await page.goto("/history?project=FR-02");
  await expect(page.locator("main")).toContainText("asked and answered");

  await page.goto("/setup/letters");
  await expect(page.locator(".sentence")).toContainText("sent");
  await accessible(page);
});

test("a lead asks the office about what they state, and chooses their letters", async ({
  page,
  browser,
}) => {
  await signIn(page, "lead");
  await page.goto("/state/FR-01/forecast");
  await page.getByRole("link", { name: "Ask about it" }).click();
  await expect(page.getByLabel("Put to")).toHaveValue("office");
  await page.getByLabel("About").selectOption("commitment");
  await page.getByLabel("Question").fill("Which rate holds for the order?");
  await page.getByRole("button", { name: "Ask", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(
    "the portfolio office",
  );
  await page.goto("/account");
  await page.getByLabel("Mail address").fill("ada@skerrow.example");
  await page.getByLabel(/^Questions, findings/).selectOption("daily");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByLabel(/^Questions, findings/)).toHaveValue("daily");
  await page.getByLabel(/^Questions, findings/).selectOption("at once");
  await page.getByRole("button", { name: "Keep it" }).click();

  const analyst = await browser.newPage();
  await signIn(analyst, "analyst");
  await expect(
    analyst.getByRole("link", { name: /^Questions/ }).first(),
  ).toContainText(/[1-9]/);
});
