// The analyst goes from the open period's findings to none unexplained, changes
// a rule and a check after their previews, and sets a standing; the executive
// sees all of it and changes none.
import { accessible, expect, fits, project, test } from "./pages.mjs";

const causes = (page) => page.locator("table.texts tbody tr");
const cause = (page, name) => causes(page).filter({ hasText: name });
const glyph = (page, code) =>
  project(page, code).locator('svg[aria-label^="Overall"]').first();

// refused leaves out the complaints of forms that were refused on purpose.
const refused = (complaints) =>
  expect(complaints.splice(0).filter((c) => !c.includes("422"))).toEqual([]);

test.describe.configure({ mode: "serial" });

test("corrects one at its cell, after seeing what it changes", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await expect(glyph(page, "QS-07")).toHaveAttribute("aria-label", /Act/);
  await page.keyboard.press("2");
  await expect(page).toHaveURL(/\/check/);
  await expect(page.locator(".sentence")).toContainText(
    /errors(,| and) \d+ warnings/,
  );
  await expect(page.locator(".quality a").first()).toBeVisible();
  await cause(page, "Monthly total and postings").getByRole("link").click();
  await page.getByRole("link", { name: /Cost code 220 has both/ }).click();
  await expect(page.locator(".sourcebox")).toHaveCount(2);
  await expect(page.locator(".sourcebox").first()).toContainText(
    "lantern, as told by the lead",
  );
  await accessible(page);
  await page.getByLabel("Amount").fill("abc");
  await page.getByRole("button", { name: "See what it changes" }).click();
  await expect(page.getByRole("alert")).toContainText("Amount:");
  await page.getByLabel("Amount").fill("");
  await page.getByRole("button", { name: "See what it changes" }).click();
  const effect = page.locator(".effect");
  await expect(effect).toContainText("Overall");
  await expect(effect).toContainText("Settles");
  await expect(effect).toContainText("the lead's totals say 96,500 EUR");
  await accessible(page);
  await page.getByRole("button", { name: "Correct it" }).click();
  await expect(page.locator('p.note[role="status"]')).toContainText(
    "corrected",
  );
  await expect(cause(page, "Monthly total and postings")).toHaveCount(0);
  await page.keyboard.press("3");
  await expect(glyph(page, "QS-07")).not.toHaveAttribute("aria-label", /Act/);
  refused(complaints);
});

test("sends one back, accepts one, and answers the rest at once", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/check?cause=forecast-under-orders");
  await page.getByRole("link", { name: /is on order already/ }).click();
  await page.getByRole("button", { name: "Send back" }).click();
  await expect(page.getByRole("alert")).toContainText("needs a reason");
  await page.getByLabel("Question").fill("Which orders are cancelled?");
  await page.getByRole("button", { name: "Send back" }).click();
  await expect(page.locator('p.note[role="status"]')).toContainText(
    "is sent back. This is the next that waits for an answer.",
  );
  await page.goto("/check?cause=forecast-under-orders");
  await page.getByRole("link", { name: /is on order already/ }).click();
  await expect(page.locator(".answer")).toContainText(
    "Sent back in Nov 2026 by Ines Marlow: Which orders are cancelled?",
  );
  await page.goto("/check?cause=cost-not-running");
  await page.getByRole("link", { name: /on hold since/ }).click();
  await page.getByLabel("Reason").first().fill("Storage is paid to March");
  await page.getByLabel("Until").first().selectOption("2027-03");
  await page.getByRole("button", { name: "Accept", exact: true }).click();
  await expect(page.locator('p.note[role="status"]')).toContainText(
    "is accepted",
  );
  await page.goto("/check?cause=cost-not-running");
  await page.getByRole("link", { name: /on hold since/ }).click();
  await expect(page.locator(".answer")).toContainText("until Mar 2027");

  await page.goto("/check?said=unexplained&show=all");
  const left = await page.locator(".texts tbody tr").count();
  expect(left).toBeGreaterThan(5);
  await page.locator(".texts tbody input").first().check();
  await page.getByLabel("Question to the leads").fill("What happened here?");
  await page
    .locator(".actbar")
    .getByRole("button", { name: "Send back" })
    .click();
  await expect(page.locator('p.note[role="status"]')).toContainText(
    "1 finding is sent back",
  );
  await expect(page.locator(".texts tbody tr")).toHaveCount(left - 1);
  await page.getByLabel("All that are listed").check();
  await page.locator(".actbar").getByLabel("Reason").fill("Seen in the review");
  await page.locator(".actbar").getByLabel("Until").selectOption("2026-12");
  await page
    .locator(".actbar")
    .getByRole("button", { name: "Accept", exact: true })
    .click();
  await expect(page.locator('p.note[role="status"]')).toContainText(
    "findings are accepted",
  );
  await page.goto("/check");
  await expect(page.locator(".sentence")).toContainText(
    "All errors and warnings have an answer",
  );
  await expect(
    page.getByRole("link", { name: "Check", exact: true }).locator("sup"),
  ).toHaveCount(0);
  refused(complaints);
});

test("writes a check of its own after its preview", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/setup/checks");
  await accessible(page);
  await page.getByLabel("Code", { exact: true }).fill("idle-contingency");
  await page.getByLabel("The cause, as screens call it").fill("Late and calm");
  await page
    .getByLabel("It finds something where")
    .fill("late_share > 0.05 and bac > finish_slip");
  await page
    .getByLabel("And says")
    .fill("{late_share} is late; ask {lead} what is done.");
  await page.getByRole("button", { name: "See what it would find" }).click();
  await expect(page.getByRole("alert")).toContainText(
    "compares money with working days",
  );
  await page
    .getByLabel("It finds something where")
    .fill('late_share > 0.05 and stated_standing == "steady"');
  await page.getByRole("button", { name: "See what it would find" }).click();
  const effect = page.locator(".effect");
  await expect(effect).toContainText(/It would find \d+/);
  await expect(effect).toContainText("Oct 2026, had it held then");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.locator('p.note[role="status"]')).toContainText("kept");
  await page.goto("/check");
  await cause(page, "Late and calm").getByRole("link").click();
  await expect(page.locator(".texts tbody tr").first()).toContainText(
    "is late; ask",
  );
  refused(complaints);
});

test("changes a limit after its preview, and sets a standing", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/setup/rules");
  await accessible(page);
  await page
    .locator("tr", { hasText: "Late share" })
    .getByRole("link", { name: "Change" })
    .click();
  await expect(
    page.getByRole("heading", { name: "Change Late share" }),
  ).toBeVisible();
  await page.getByLabel("Watch", { exact: true }).fill("0.4");
  await page
    .getByRole("button", { name: "See who would move" })
    .first()
    .click();
  await expect(page.getByRole("alert")).toContainText("swap them");
  await page.getByLabel("Act", { exact: true }).fill("60");
  await page
    .getByRole("button", { name: "See who would move" })
    .first()
    .click();
  await expect(page.getByRole("alert")).toContainText(
    "60 can be 60% or 6000%; write 60% or 0.6",
  );
  await page.getByLabel("Act", { exact: true }).fill("60 %");
  await page
    .getByRole("button", { name: "See who would move" })
    .first()
    .click();
  await expect(page.locator(".effect")).toContainText(
    /Late share: watch above 40%, act 60%\. It judges \d+ projects\./,
  );
  const moved = page.locator(".effect .stands li").first();
  await expect(moved).toContainText("Steady");
  await expect(page.locator(".effect")).toContainText("Oct 2026 is closed");
  const code = await moved.locator(".code").innerText();
  await page.getByRole("button", { name: "Keep it" }).first().click();
  await expect(page.locator('p.note[role="status"]')).toContainText(
    "standings follow",
  );
  await expect(page.locator("tr", { hasText: "Late share" })).toContainText(
    "watch above 40%, act 60%",
  );
  await page.goto(`/project/${code}`);
  await expect(
    page.locator(".reasons tr", { hasText: "Late share" }),
  ).toContainText("40%");

  await page.goto("/project/QS-01");
  await page.getByRole("link", { name: "Set a standing by hand" }).click();
  await expect(page.locator('select[name="project"]')).toHaveValue("QS-01");
  await page.locator('select[name="standing"]').selectOption("watch");
  await page.getByLabel("Reason").fill("The sponsor has agreed a new date");
  await page.getByRole("button", { name: "Set it" }).click();
  await expect(page.getByRole("alert")).toContainText("an override has an end");
  await page.getByLabel("Until").selectOption("2026-12");
  await page.getByRole("button", { name: "Set it" }).click();
  await expect(page.locator('p.note[role="status"]')).toContainText(
    "The standing is set",
  );
  const row = page.locator("tr", { hasText: "The sponsor has agreed" });
  await expect(row).toContainText("in 1 period");
  await accessible(page);
  await page.keyboard.press("3");
  await expect(glyph(page, "QS-01")).toHaveAttribute("aria-label", /Watch/);
  refused(complaints);
});

test("tells what a file would bring before it is taken", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/gather");
  await page.locator(".drop summary").click();
  await page
    .locator(".drop textarea")
    .fill(
      "project,activity,period,percent\nPS-01,D2,2026-11,20\nPS-03,D4,2026-11,95\n",
    );
  await page.locator(".drop button").click();
  await page.waitForURL(/draft/);
  const aside = page.locator("aside.accept");
  await expect(aside).toContainText("What the checks would say");
  await expect(aside).toContainText("went back from");
  await expect(page.locator(".sentence")).toContainText("findings");
  await page.getByRole("button", { name: "Throw away" }).click();
});

test("the executive sees all of it and changes none", async ({ page, as }) => {
  await as("executive");
  for (const path of [
    "/check",
    "/check?show=all",
    "/check/SP-02/statement-stale?record=forecast",
    "/setup/periods",
    "/setup/calendars?of=yard",
    "/setup/rules",
    "/setup/checks",
    "/standings",
  ]) {
    await page.goto(path);
    await expect(page.locator("main")).not.toBeEmpty();
    await expect(page.locator('main form[method="post"]')).toHaveCount(0);
    await accessible(page);
    for (const width of [390, 1280, 1920]) {
      await page.setViewportSize({ width, height: 800 });
      await fits(page);
    }
  }
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto("/check/SP-02/statement-stale?record=forecast");
  await expect(page.locator(".answer")).toContainText(
    "What do the sockets cost from here on?",
  );
  await page.goto("/check?at=2026-09");
  await expect(page.locator(".sentence")).toContainText("For Sep 2026");
  await expect(page.locator(".wide .quality .now")).toHaveCount(1);
});
