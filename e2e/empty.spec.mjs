// An office begins: an empty database, its administrator and analyst, a 4-4-5
// calendar with holidays and due days, and the first files gathered into it.
import { admit, begin, enter } from "./begin.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";

const base = "http://127.0.0.1:8496";
let server, welcome;

test.describe.configure({ mode: "serial" });
test.use({ baseURL: base });
test.beforeAll(async () => ({ server, welcome } = await begin(base)));
test.afterAll(() => server.kill());

const signIn = (page, login) => enter(page, base, login);

const open = async (page, what) => {
  await page.getByRole("link", { name: "Setup", exact: true }).click();
  await page
    .getByRole("navigation", { name: "Setup" })
    .getByRole("link", { name: what })
    .click();
};

const files = (list) =>
  Object.entries(list).map(([name, rows]) => ({
    name,
    mimeType: "text/csv",
    buffer: Buffer.from(rows.join("\n") + "\n"),
  }));

async function gather(page, list) {
  await page.goto("/gather");
  await page.setInputFiles("#files", files(list));
  await page.waitForURL(/\/gather\/draft\/\d+/);
}

test("the first administrator enters and invites the analysts", async ({
  page,
  browser,
}) => {
  await admit(page, browser, base, welcome, {
    ines: "Ines Marlow",
    wren: "Wren Tolliver",
  });
  await expect(page.getByRole("row", { name: /Wren/ })).toContainText(
    "analyst",
  );
});

test("the analyst draws a 4-4-5 calendar", async ({ page, complaints }) => {
  await signIn(page, "ines");
  await open(page, "Periods");
  await expect(page.locator(".sentence")).toContainText(
    "Reporting periods are calendar months",
  );
  await accessible(page);
  await page.getByLabel("Pattern").selectOption("4-4-5");
  await page.getByLabel("First day").fill("30.3.2026");
  await page.getByLabel("Fiscal year", { exact: true }).fill("FY27");
  await page.getByLabel("Years", { exact: true }).fill("3");
  await page.getByRole("button", { name: "Draw them" }).click();
  await expect(page.getByRole("alert")).toContainText("First day");
  await page.getByLabel("First day").fill("2026-03-30");
  await page.getByRole("button", { name: "Draw them" }).click();
  await expect(page.getByRole("status")).toContainText("36 periods are drawn");
  const last = page.getByRole("row", { name: /FY28-P12/ });
  await expect(last).toContainText("Sun 2 Apr 2028"); // nearest to the month's end
  await expect(last).toContainText("6 weeks");
  await accessible(page);
  await fits(page);

  // One period is called otherwise, and a slip of the pen is told.
  const list = page.getByLabel("The list");
  const drawn = await list.inputValue();
  await list.fill(
    drawn.replace("2026-04-27  2026-05-24", "2026-04-28  2026-05-24"),
  );
  await page.getByRole("button", { name: "Keep these periods" }).click();
  await expect(page.getByRole("alert")).toContainText(
    "FY27-P02: it begins on 2026-04-28, and FY27-P01 ends on 2026-04-26",
  );
  await list.fill(drawn.replace("Jun 2026", "Summer close"));
  await page.getByRole("button", { name: "Keep these periods" }).click();
  await expect(page.locator(".sentence")).toContainText(
    "36 periods of its own, FY27-P01 to FY29-P12",
  );
  await expect(page.getByRole("row", { name: /Summer close/ })).toContainText(
    "FY27-P03",
  );
  complaints.splice(0); // the forms that were refused
});

test("holidays and due days follow; two at once are told of each other", async ({
  page,
  browser,
  complaints,
}) => {
  const other = await browser.newPage({ baseURL: base });
  await signIn(other, "wren");
  await other.goto("/setup/calendars");
  await signIn(page, "ines");
  await open(page, "Calendars");
  await accessible(page);
  await page.getByLabel("Code").fill("office");
  await page.getByLabel("Holidays").fill("2026-05-01 May Day\n31 May off");
  await page.getByRole("button", { name: "Keep the calendar" }).click();
  await expect(page.getByRole("alert")).toContainText("line 2");
  await page.getByLabel("Holidays").fill("2026-05-01 May Day\n2026-04-28");
  await page.getByRole("button", { name: "Keep the calendar" }).click();
  await expect(page.getByRole("row", { name: /office/ })).toContainText(
    "Monday to Friday",
  );
  await page.getByRole("link", { name: "office", exact: true }).click();
  await accessible(page);

  await other.getByLabel("Code").fill("office");
  await other.getByLabel("Sat").check();
  await other.getByRole("button", { name: "Keep the calendar" }).click();
  await expect(other.getByRole("alert")).toContainText("Ines Marlow changed");
  await expect(other.getByLabel("Sat")).toBeChecked();
  await other.close();

  await open(page, "Periods");
  await page.getByLabel("Dates").fill("2");
  await page.getByLabel("Forecast").fill("-1");
  await page.getByRole("button", { name: "Keep the days" }).click();
  // P01 ends on Sunday 26 April, and Tuesday the 28th is a holiday: the second
  // working day is Wednesday the 29th; the last one but one is the 23rd.
  const first = page.getByRole("row", { name: /FY27-P01/ });
  await expect(first).toContainText("29 Apr");
  await expect(first).toContainText("23 Apr");
  await expect(first).toContainText("20"); // working days in four weeks
  complaints.splice(0); // the forms that were refused
});

test("files are gathered into it, by code and by month", async ({ page }) => {
  await signIn(page, "ines");
  await gather(page, {
    "programmes.csv": ["programme,name", "LIGHTS,Lights"],
    "cost_codes.csv": ["cost_code,name", "10,Works"],
    "projects.csv": [
      "project,name,programme,lead,start,finish",
      "L-1,Lamps,LIGHTS,Ada Quill,2026-03-30,2026-09-27",
    ],
    "baselines.csv": ["project,baseline,approved", "L-1,1,2026-03-30"],
    "activities.csv": [
      "project,activity,name,budget,baseline_start,baseline_finish",
      "L-1,A1,Lamps on the quay,9000,2026-03-30,2026-06-28",
    ],
    "Plan of the lamps.csv": [
      "Project;Cost code;Kind;Apr 26;May 26;Jun 26",
      "L-1;10;plan;3000;3000;4000",
    ],
    "actuals.csv": [
      "project,cost_code,kind,period,amount",
      "L-1,10,actual,FY27-P01,3100",
      "L-1,10,actual,FY27-P02,3050",
      "L-1,10,actual,FY26-P12,9",
    ],
    "progress.csv": [
      "project,activity,period,percent,actual_start",
      "L-1,A1,FY27-P01,30,2026-03-30",
      "L-1,A1,May 2026,60,",
    ],
  });
  await accessible(page);
  await expect(page.locator("main")).toContainText("FY26-P12");
  await page.getByRole("button", { name: /^Accept/ }).click();
  await page.waitForURL(/\/gather\/run\/\d+/, { waitUntil: "commit" });

  await page.goto("/board");
  const rail = page.getByRole("navigation", { name: "Periods" });
  await expect(rail.getByRole("link")).toHaveCount(2);
  await expect(rail).toContainText("Apr");
  await expect(rail).toContainText("May");
  await expect(rail).toContainText("P03"); // ahead, under a name of its own
  await page.goto("/project/L-1");
  await expect(page.locator("main")).toContainText("Lamps");
  // BAC 10,000, PV through May 6,000, earned 60 % of it, spent 6,150.
  for (const figure of ["bac", "pv", "ev", "ac"]) {
    await page.goto(`/trail/L-1/${figure}`);
    await expect(page.locator("main")).toContainText(
      { bac: "10,000", pv: "6,000", ev: "6,000", ac: "6,150" }[figure],
    );
  }
});

test("what is named keeps its days; later periods change", async ({
  page,
  complaints,
}) => {
  await signIn(page, "ines");
  await open(page, "Periods");
  await expect(page.locator(".sentence")).toContainText("keep their days");
  const list = page.getByLabel("The list");
  const kept = await list.inputValue();
  await list.fill(kept.replace("2026-04-26", "2026-04-25"));
  await page.getByRole("button", { name: "Keep these periods" }).click();
  await expect(page.getByRole("alert")).toContainText("FY27-P0");
  const lines = kept.trim().split("\n");
  await list.fill(lines.slice(0, 1).join("\n"));
  await page.getByRole("button", { name: "Keep these periods" }).click();
  await expect(page.getByRole("alert")).toContainText(
    "only later ones can change",
  );
  await list.fill(lines.slice(0, 24).join("\n"));
  await page.getByRole("button", { name: "Keep these periods" }).click();
  await expect(page.locator(".sentence")).toContainText(
    "24 periods of its own, FY27-P01 to FY28-P12",
  );
  // Nothing built on it, so it is taken back; the first drawing is not.
  await page.goto("/history");
  await page
    .getByRole("row", { name: /24 periods/ })
    .first()
    .getByRole("link")
    .first()
    .click();
  await accessible(page);
  await page.getByRole("button", { name: /^Undo/ }).first().click();
  await open(page, "Periods");
  await expect(page.locator(".sentence")).toContainText("36 periods");
  await page.goto("/history?who=Ines&table=boundaries");
  await page
    .getByRole("row", { name: /36 periods/ })
    .last()
    .getByRole("link")
    .first()
    .click();
  await expect(page.locator("main")).toContainText(
    "so the kind of periods stays",
  );
  complaints.splice(0); // the forms that were refused
});
