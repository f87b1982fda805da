// Dates: what drives the latest milestone across two projects is found; a yard's activity is
// moved and who is pushed is seen; part of it is taken; a month is read and taken as a
// calendar file; a backlog tells when it will be done, and why.
import { accessible, expect, fits, test } from "./pages.mjs";

const tab = (page, name) =>
  page
    .getByRole("navigation", { name: "Dates" })
    .getByRole("link", { name, exact: true })
    .click();

const sentence = (page) => page.locator(".sentence");

test("finds what holds a linkspan, moves the yard's launch and takes part of it", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page
    .getByRole("navigation", { name: "Weigh" })
    .getByRole("link", { name: "Dates", exact: true })
    .click();
  await expect(sentence(page)).toContainText("projects on the line");
  await accessible(page);
  await fits(page);

  // The interface in conflict leads to what it is for.
  await tab(page, "Interfaces");
  await expect(sentence(page)).toContainText(
    "Hull launched of FR-01 comes 16 working days after QS-02 needs it",
  );
  await accessible(page);
  await page.getByRole("button", { name: "Agree FR-01/D9 to E3" }).click();
  await expect(page.getByRole("status")).toContainText("is agreed");
  await expect(
    page.getByRole("row", { name: /Hull launched/ }).first(),
  ).toContainText("Ines Marlow");
  await page.getByRole("link", { name: "E3 Trials" }).first().click();
  const one = page.getByRole("complementary", { name: "E3 Trials" });
  await expect(one).toContainText("held by FR-01/D9, FS +2 d");

  // Back along the chain into the other project.
  await one
    .getByRole("link", { name: "FR-01/D9 Hull launched" })
    .first()
    .click();
  const giver = page.getByRole("complementary", { name: "D9 Hull launched" });
  await expect(giver).toContainText("near-critical");

  // Five weeks later: who is pushed, and how far, before anything is kept.
  await giver.getByLabel("Finish").fill("2027-08-20");
  await giver.getByRole("button", { name: "See what it pushes" }).click();
  await expect(sentence(page)).toContainText("5 activities move in 2 projects");
  await expect(page.locator("main")).toContainText("dates Watch → Act");
  await accessible(page);
  await fits(page);

  // The linkspan alone is told of it; the ferry's own tests stay as they are stated.
  const rows = page.locator("main table tbody tr");
  await expect(rows).toHaveCount(6);
  for (const name of ["E2", "E4", "F2", "F4"])
    await page.getByRole("checkbox", { name: `Take FR-01 ${name}` }).uncheck();
  await page.getByRole("button", { name: "State what is ticked" }).click();
  await expect(page.getByRole("status")).toContainText(
    "2 activities have other dates, as one change",
  );
  await expect(page).toHaveURL(/timeline\?.*of=FR-01%2FD9/);

  // What was not taken breaks its link, which is a finding; the conflict is settled.
  await page.goto("/check?cause=link-broken");
  await expect(page.locator("main")).toContainText("E2 System tests");
  await page.goto("/interfaces");
  await expect(sentence(page)).not.toContainText("comes 16 working days");
});

test("raises a milestone to its programme by one key", async ({ page, as }) => {
  await as("analyst");
  await page.goto("/timeline?open=SP-02&of=SP-02/A9");
  const one = page.getByRole("complementary", { name: "A9 Concept agreed" });
  await expect(one).toContainText("Shows up toproject");
  await page.locator("main").press("r");
  await expect(page.getByRole("status")).toContainText(
    "shows up to the level of the programme",
  );
  await expect(one).toContainText("Shows up toprogramme");
  await page.goto("/dates/gone");
  await expect(sentence(page)).toContainText("Of 97 raised milestones");
});

test("drags a bar by days, and stretches it by keys", async ({ page, as }) => {
  await as("analyst");
  await page.goto("/timeline?open=SP-02&per=quarters&from=2027-04-01");
  const bar = page.locator(
    'figure.line .wide a[href*="of=SP-02%2FE1"] rect.work',
  );
  await bar.scrollIntoViewIfNeeded();
  const box = await bar.boundingBox();
  await page.mouse.move(box.x + box.width / 2, box.y + 4);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 60, box.y + 4, { steps: 8 });
  await page.mouse.up();
  await expect(page).toHaveURL(/timeline\/push\?.*by=\d+/);
  await expect(sentence(page)).toContainText(
    "With Installation tests of SP-02",
  );

  await page.goto("/timeline?open=SP-02&per=quarters&from=2027-04-01");
  await page
    .locator('figure.line .wide a[href*="of=SP-02%2FE1"]:not([tabindex])')
    .focus();
  await page.keyboard.press("Shift+ArrowRight");
  await expect(page).toHaveURL(/timeline\/push\?.*by=1/);
});

test("links two activities by keys and by dragging, takes a link out, binds a day and sends a delivery back", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/timeline?open=FR-01&of=FR-01/E4");
  const one = page.getByRole("complementary", { name: /^E4 / });
  await one.getByText("Link it with another").click();
  await accessible(page);

  // A loop is refused, with its names; nothing is kept.
  const line = page.locator("figure.line");
  const bar = (code) =>
    line
      .locator(`.wide a[href*="of=${code.replace("/", "%2F")}"]:has(rect.work)`)
      .first();
  await bar("FR-01/E4").focus();
  await page.keyboard.press("l");
  await expect(line.locator("[data-tie]")).toContainText(
    "L on the one that follows links them",
  );
  await bar("FR-01/E2").focus();
  await page.keyboard.press("l");
  await expect(page.locator("main")).toContainText("closes a loop");

  // By dragging with Alt: what follows is told before it is kept.
  await page.goto("/timeline?open=SP-05");
  await bar("SP-05/F4").locator("rect.work").scrollIntoViewIfNeeded();
  const from = await bar("SP-05/F1").locator("rect.work").boundingBox();
  const to = await bar("SP-05/F4").locator("rect.work").boundingBox();
  await page.keyboard.down("Alt");
  await page.mouse.move(from.x + 1, from.y + 3);
  await page.mouse.down();
  await page.mouse.move(to.x + 1, to.y + 3);
  await page.mouse.up();
  await page.keyboard.up("Alt");
  await expect(page).toHaveURL(/timeline\/link\?.*of=SP-05%2FF4/);
  await page.getByLabel("Lag in working days").fill("30");
  await page.getByRole("button", { name: "Look again" }).click();
  await expect(sentence(page)).toContainText(
    "With SP-05/F4 after SP-05/F1, FS +30 d",
  );
  await expect(sentence(page)).toContainText("1 activity moves");
  await accessible(page);
  await fits(page);
  await page.getByRole("button", { name: "Link only" }).click();
  await expect(page.getByRole("status")).toContainText(
    "SP-05/F4 is linked with SP-05/F1.",
  );

  // The panel has it, broken by what was not taken; it is taken out again.
  const last = page.getByRole("complementary", { name: /^F4 / });
  await expect(last).toContainText("broken by");
  await last
    .getByRole("listitem")
    .filter({ hasText: "FS +30 d" })
    .getByRole("link", { name: "Take out…" })
    .click();
  await page
    .getByRole("button", { name: /^Take (it out|out the link)/ })
    .last()
    .click();
  await expect(page.getByRole("status")).toContainText("is no longer linked");
  await expect(last).not.toContainText("FS +30 d");

  // A constraint wants its reason.
  await last.getByText("Bind its date").click();
  await last.getByLabel("It is").selectOption("not before");
  await last.getByLabel("Day", { exact: true }).fill("2028-01-03");
  await last.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("say why it is bound");
  const again = page.getByRole("complementary", { name: /^F4 / });
  await again.getByText("Bind its date").click();
  await again.getByLabel("It is").selectOption("not before");
  await again.getByLabel("Day", { exact: true }).fill("2028-01-03");
  await again.getByLabel("Why", { exact: true }).fill("The permit begins");
  await again.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByRole("status")).toContainText(
    "SP-05/F4 is bound: not before 2028-01-03.",
  );
  await expect(last).toContainText("The permit begins");

  // What it hands over: a receiver, handed over, sent back with a remark.
  await last.getByText("Make it a deliverable").click();
  await last.getByLabel("Receiver").fill("Grid company");
  await last.getByRole("button", { name: "Keep the receiver" }).click();
  await last.getByText("What it hands over is to come").click();
  await last.getByRole("button", { name: "Handed over" }).click();
  await last.getByText("What it hands over is handed over").click();
  await last.getByLabel("What is wrong").fill("The seals are missing");
  await last.getByRole("button", { name: "Send back" }).click();
  await expect(
    page.getByRole("status").filter({ hasText: "SP-05/F4 is sent back." }),
  ).toBeVisible();
  await page.goto("/interfaces");
  await expect(page.locator("main")).toContainText("The seals are missing");
  expect(complaints.splice(0).filter((c) => !c.includes("422"))).toEqual([]); // of the loop, and the constraint without a reason
});

test("reads a month, and takes it as a calendar file", async ({ page, as }) => {
  await as("executive");
  await page.goto("/calendar");
  await expect(sentence(page)).toContainText("In November 2026");
  await page.getByRole("link", { name: "Month after" }).click();
  await expect(page).toHaveURL(/month=2026-12/);
  await expect(page.locator("table.month")).toContainText("Christmas Day");
  await page.getByRole("link", { name: "Raised milestones" }).click();
  await expect(page.locator(".event").first()).toContainText("SP-03");
  await accessible(page);
  await fits(page);
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "As iCalendar" }).click(),
  ]);
  expect(file.suggestedFilename()).toBe("dates.ics");

  // An address of its own lists what the page lists, to whoever has it.
  await page.getByText("In a calendar program").click();
  await page.getByRole("button", { name: "Make an address" }).click();
  const address = await page.locator("details.subscribed code").innerText();
  expect(address).toMatch(/\/calendar\/\w+\.ics$/);
  const feed = await (await fetch(address)).text();
  expect(feed).toContain("Barge ordered");
  expect(feed).not.toContain("Main works A");
  await page.getByRole("button", { name: /^Take back/ }).click();
  await expect(page.getByRole("status")).toContainText("taken back");
  expect((await fetch(address)).status).toBe(404);

  await tab(page, "What is due");
  await expect(sentence(page)).toContainText("finished within 31 days");
  await accessible(page);
  await tab(page, "Where dates have gone");
  await expect(sentence(page)).toContainText("raised milestones");
  await expect(page.locator("figure.gone .wide svg")).toBeVisible();
  await accessible(page);
});

test("sees when a backlog will be done, and why", async ({ page, as }) => {
  await as("executive");
  await page.goto("/backlog");
  await expect(sentence(page)).toContainText("Live sailing times has accepted");
  await expect(sentence(page)).toContainText("if as much is added as lately");
  await accessible(page);
  await fits(page);
  await sentence(page).getByRole("link").first().click();
  await expect(page.locator("main")).toContainText("Finish at pace");
});

test("the roadmap stands by lead, and the pages hold on a phone", async ({
  page,
  as,
}) => {
  await as("executive");
  await page.goto("/roadmap?per=3");
  await expect(page.locator("figure.line .wide svg")).toBeVisible();
  await page.getByRole("button", { name: "Programme", exact: true }).click();
  await page.getByRole("link", { name: "Lead", exact: true }).click();
  await expect(page.locator("figure.line .wide svg")).toContainText(
    "Ada Brannock",
  );
  await accessible(page);

  // A project's sheet has its own line, which leads to the timeline.
  await page.goto("/project/QS-02");
  const own = page.locator("#activities figure.line");
  await expect(own.locator(".wide svg")).toContainText("E3 Trials");
  await accessible(page);
  await own.getByRole("link", { name: "Open on the timeline" }).click();
  await expect(page).toHaveURL(/timeline\?open=QS-02/);
  for (const width of [320, 768, 1920]) {
    await page.setViewportSize({ width, height: 800 });
    for (const path of [
      "/timeline?open=FR-01&of=FR-01/D9",
      "/roadmap",
      "/calendar",
      "/dates",
      "/interfaces",
      "/dates/gone",
      "/backlog",
      "/timeline/link?of=FR-01/D9&other=QS-02/E4",
      "/project/QS-02",
    ]) {
      await page.goto(path);
      await fits(page);
    }
  }
});

test("a roadmap becomes a page of a brief, as it is shown", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/roadmap?per=3&group=lead");
  await page.getByRole("link", { name: "Take it into a brief" }).click();
  const main = page.locator("main");
  await expect(main).toContainText(/Page \d+ of \d+/);
  await expect(main.locator("svg").first()).toContainText("Ada Brannock");
});
