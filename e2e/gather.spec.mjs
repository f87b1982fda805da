// The analyst takes what people send: three untidy files are dropped, one
// column corrected, the way kept, the rest accepted, refused rows mended in
// place, and all of it taken back.
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { execFileSync } from "node:child_process";
import { fileURLToPath } from "node:url";
import { accessible, expect, fits, test } from "./pages.mjs";

const post = mkdtempSync(join(tmpdir(), "turret-post-"));
const turret = fileURLToPath(new URL("../bin/turret", import.meta.url));
execFileSync(turret, ["demo", "--post", post, "--only-post"]);
const file = (name) => join(post, name);
const all = [
  "Hauptbuch Quays 2026-11.csv",
  "Forecast Orran Bay.xlsx",
  "Progress Orran Bay.txt",
].map(file);

// drop lets files fall on the page, as from a file manager.
async function drop(page, paths) {
  const files = paths.map((p) => ({
    name: p.split("/").pop(),
    body: readFileSync(p).toString("base64"),
  }));
  const transfer = await page.evaluateHandle((list) => {
    const t = new DataTransfer();
    for (const f of list)
      t.items.add(
        new File(
          [Uint8Array.from(atob(f.body), (c) => c.charCodeAt(0))],
          f.name,
        ),
      );
    return t;
  }, files);
  await page.dispatchEvent("#drop", "drop", { dataTransfer: transfer });
  await page.waitForURL(/\/gather\/draft\/\d+/);
}

// figures are what the board says of each project, exactly.
async function figures(page) {
  await page.goto("/board?cols=ac,ev,eac_stated,eac_computed,late_share");
  return page
    .locator("table.board tbody tr:not(.group)")
    .evaluateAll((rows) =>
      Object.fromEntries(
        rows.map((r) => [
          r.querySelector(".code").textContent,
          [...r.querySelectorAll("td a, td span")]
            .map((a) => a.title || a.textContent)
            .join("|"),
        ]),
      ),
    );
}

const sheet = (page, name) =>
  page.locator(".sheetview", { has: page.locator("h2", { hasText: name }) });

test("three untidy files are read, corrected, taken, mended and taken back", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  const before = await figures(page);
  await page.goto("/gather");
  await expect(page.locator(".sentence")).toContainText(
    /20 of 22 projects have stated all they owe/,
  );
  await drop(page, all);
  await expect(page.locator(".sentence")).toContainText(
    "Three questions wait for an answer",
  );
  await expect(page.getByRole("button", { name: "Accept" })).toBeDisabled();
  await accessible(page);
  await fits(page);

  const ledger = sheet(page, "Hauptbuch");
  await expect(ledger).toContainText("Windows-1252");
  await expect(ledger.locator(".tallies")).toHaveText(
    "6 new · 0 changed · 0 unchanged · 3 refused · 2 totals agree",
  );
  await expect(sheet(page, "sheet Read me")).toContainText("Passed over");
  const forecast = sheet(page, "sheet Forecast");
  await expect(forecast.locator(".tallies")).toContainText(
    "1 of 16 totals do not agree",
  );
  await expect(forecast).toContainText(
    "the total 52900 under “total” is not the sum of its rows, 51900",
  );
  await expect(forecast.getByLabel("What P01 FY28 is")).toHaveValue("month");
  await forecast
    .getByRole("button", { name: "it is right as it stands" })
    .click();
  await expect(sheet(page, "sheet Forecast").locator("ul.asks")).toHaveCount(0);

  const progress = sheet(page, "Progress Orran Bay");
  await expect(progress.locator("ul.asks li").first()).toContainText(
    "can be 4 Dec 2026 or 12 Apr 2026",
  );
  await progress
    .getByLabel("How Forecast finish is written")
    .selectOption("day first");
  await progress.getByLabel("How Started is written").selectOption("day first");
  await progress.getByLabel("Keep all this as the mapping").fill("Orran Bay");
  await progress.getByRole("button", { name: "Read it again so" }).click();
  await expect(sheet(page, "Progress Orran Bay").locator("h2")).toContainText(
    "mapping Orran Bay",
  );
  await expect(page.locator(".lines").first().locator(".code")).toHaveText([
    "QS-01",
    "QS-05",
    "QS-07",
  ]);

  // Leaving the page loses nothing.
  await page.goto("/board");
  await page.goto("/gather");
  await page
    .locator(".lines a", { hasText: "Hauptbuch Quays 2026-11.csv" })
    .first()
    .click();
  await page.getByRole("button", { name: "Accept" }).click();
  await expect(page.locator("h1")).toContainText("What came in");
  await expect(page.locator(".sentence")).toContainText(
    "66 taken, 5 refused, 5 still wait",
  );
  const first = page.url();

  const after = await figures(page);
  const moved = Object.keys(after).filter((k) => after[k] !== before[k]);
  expect(moved).toEqual(["QS-01", "QS-05", "QS-07"]);

  // Two rows are mended in place: one typed, one pasted over.
  await page.goto(first);
  await page.getByRole("link", { name: "Deal with the refused rows" }).click();
  const grid = page.getByRole("region", { name: /Hauptbuch/ });
  const day = grid.getByLabel("buchungsdatum of row 11");
  await expect(day).toHaveValue("demnächst");
  await day.fill("25.11.2026");
  await expect(day).toHaveClass(/changed/);
  await day.press("ArrowDown");
  await expect(grid.getByLabel("buchungsdatum of row 14")).toBeFocused();
  const percent = page.getByLabel("pct complete of row 8");
  await percent.focus();
  await percent.evaluate((input) => {
    const data = new DataTransfer();
    data.setData("text/plain", "2 %\t05/03/2027\n");
    input.dispatchEvent(
      new ClipboardEvent("paste", { clipboardData: data, bubbles: true }),
    );
  });
  await expect(percent).toHaveValue("2 %");
  await accessible(page);
  await page.getByRole("button", { name: "Send again" }).click();
  await expect(page.getByRole("status")).toContainText("2 rows were taken");
  await expect(page.locator(".sentence")).toContainText("3 rows wait");

  // A row that is not needed is dropped with a reason, never without one.
  await page.getByLabel("Choose row 9").check();
  await page.getByRole("button", { name: "Drop the ticked" }).click();
  await expect(page.getByRole("alert")).toContainText("only dropped with a");
  await page.getByLabel("Choose row 9").check();
  await page.getByLabel("Why they are not needed").fill("not a task yet");
  await page.getByRole("button", { name: "Drop the ticked" }).click();
  await expect(page.locator(".sentence")).toContainText("2 rows wait");

  // The first run cannot be undone while the mended rows stand on it.
  await page.goto(first);
  await page.getByRole("button", { name: "Undo the run" }).click();
  await expect(page.getByRole("alert")).toContainText(
    /later work stands on it: .* of QS-05: batch \d+ of Ines Marlow changed it/,
  );
  await page.goto("/gather");
  await page.locator(".lines a", { hasText: "mended" }).first().click();
  await page.getByRole("button", { name: "Undo the run" }).click();
  await expect(page.getByRole("status")).toContainText("The run is undone");
  await page.goto(first);
  await page.getByRole("button", { name: "Undo the run" }).click();
  await expect(page.getByRole("status")).toContainText("The run is undone");
  expect(await figures(page)).toEqual(before);
  expect(complaints.splice(0).filter((c) => !c.includes("422"))).toEqual([]);

  // The mapping is offered when a file of that look comes again.
  await page.goto("/gather");
  await drop(page, [file("Progress Orran Bay.txt")]);
  await expect(sheet(page, "Progress").locator("h2")).toContainText(
    "mapping Orran Bay",
  );
  await page.getByRole("button", { name: "Throw away" }).click();
  await expect(page).toHaveURL(/\/gather$/);
  await page.goto("/setup/mappings");
  await page
    .getByRole("row", { name: /Orran Bay/ })
    .getByRole("button", { name: "Take away" })
    .click();
  await expect(page.locator("main")).toContainText("No mapping is kept yet");
});

test("a code that nothing matches is mapped, and what waited is read again", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/gather/codes");
  const row = page.getByRole("row", { name: /7990/ });
  await expect(row).toContainText("5,580.00 EUR");
  await row.getByLabel("What 7990 stands for").selectOption("220");
  await row.getByRole("button", { name: "Map and read again" }).click();
  await expect(page.getByRole("status")).toContainText(
    "3 rows were read again",
  );
  await expect(page.locator(".sentence")).toContainText("Every code is known");
  await page.goto("/gather");
  await page
    .locator(".lines a", { hasText: "postings-2026-09" })
    .first()
    .click();
  await page.getByRole("button", { name: "Undo the run" }).click();
  await expect(page.getByRole("status")).toContainText("The run is undone");
  await page.goto("/setup/mappings");
  await page
    .getByRole("row", { name: /Every source/ })
    .getByRole("button", { name: "Take away" })
    .click();
  await page.goto("/gather/codes");
  await expect(page.getByRole("row", { name: /7990/ })).toBeVisible();
});

test("rows are pasted, and others may look but not take", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/gather");
  await page.getByText("Paste rows from a spreadsheet").click();
  await page
    .getByLabel("The rows, with their heads")
    .fill("Programme\tName\nFR\tFleet renewal\n");
  await page.getByRole("button", { name: "Look at them" }).click();
  await expect(page.locator(".sentence")).toContainText(
    "0 rows would be new, 0 changed, 1 unchanged; 0 refused",
  );
  await page.getByRole("button", { name: "Accept" }).click();
  await expect(page.getByRole("status")).toContainText("here already");
});

test("the executive sees what came in, and takes nothing", async ({
  page,
  as,
}) => {
  await as("executive");
  await page.keyboard.press("1");
  await expect(page).toHaveURL(/\/gather/);
  await expect(
    page.getByRole("columnheader", { name: "Forecast" }),
  ).toBeVisible();
  await expect(page.locator("#drop")).toHaveCount(0);
  await page.getByRole("link", { name: /^Owing/ }).click();
  await expect(page.locator("td.in-missing").first()).toHaveText("late");
  await page.locator(".lines a").first().click();
  await expect(page.getByRole("button", { name: "Undo the run" })).toHaveCount(
    0,
  );
  await page.goto("/gather/refused");
  await expect(page.locator("input.cell")).toHaveCount(0);
});

test("a mapping is edited by hand, and keeps its versions", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/gather");
  await drop(page, [file("Hauptbuch Quays 2026-11.csv")]);
  await page.locator("#s1 details summary", { hasText: "More about" }).click();
  await page.getByLabel("Keep all this as the mapping").fill("Quay ledger");
  await page.getByRole("button", { name: "Read it again so" }).click();
  await expect(page.locator("#s1 h2")).toContainText("mapping Quay ledger");
  await page.goto("/setup/mappings");
  await page.getByRole("link", { name: "Quay ledger" }).click();
  await expect(page.getByLabel("What konto is")).toHaveValue("cost_code");
  await expect(page.getByLabel("How betrag eur is written")).toHaveValue(
    "comma",
  );
  await page.getByLabel("Comes as, rule 0").fill("79*");
  await page.getByLabel("Match of rule 0").selectOption("pattern");
  await page.getByLabel("Stands for, rule 0").fill("no such code");
  await page.getByRole("button", { name: "Keep as a new version" }).click();
  await expect(page.getByRole("alert")).toContainText(
    '"no such code" is not known',
  );
  await page.getByLabel("Comes as, rule 0").fill("79*");
  await page.getByLabel("Match of rule 0").selectOption("pattern");
  await page.getByLabel("Stands for, rule 0").fill("220");
  await page.getByLabel("Head of row rule 0").fill("Buchungsdatum");
  await page.getByLabel("Like, row rule 0").fill("demn*");
  await page.getByRole("button", { name: "Keep as a new version" }).click();
  expect(complaints.splice(0).filter((c) => !c.includes("422"))).toEqual([]);
  await expect(page.getByRole("status")).toContainText("A new version is kept");
  await expect(page.locator("main")).toContainText("Version 2");
  await page.goto("/gather");
  await page.locator(".lines a", { hasText: "Hauptbuch" }).first().click();
  await expect(page.locator("#s1 .tallies")).toContainText("8 new");
  await expect(page.locator("#s1 .tallies")).toContainText("0 refused");
  await page.getByRole("button", { name: "Throw away" }).click();
  await expect(page).toHaveURL(/\/gather$/);
  await page.goto("/setup/mappings");
  await page
    .getByRole("row", { name: /Quay ledger/ })
    .getByRole("button", { name: "Take away" })
    .click();
});

test("questions are answered by a button each, and a schedule tells progress too", async ({
  page,
  as,
}) => {
  await as("analyst");
  await page.goto("/gather");
  const sent = mkdtempSync(join(tmpdir(), "turret-sent-"));
  const put = (name, text) => {
    const path = join(sent, name);
    writeFileSync(path, text);
    return path;
  };
  await drop(page, [
    put(
      "Dredging schedule.csv",
      "Dredging 2027\nStatus date: 30 November 2026\nWBS;Task name;Duration;Start;Finish;% complete;Baseline start;Baseline finish\n" +
        "1;Preparation;208 days;2026-02-02;2026-11-20;62%;2026-02-02;2026-10-30\n1.1;Survey;83 days;2026-02-02;2026-05-29;100%;2026-02-02;2026-05-29\n",
    ),
    put(
      "Actuals to date.csv",
      "Cumulative actual cost to date (NOK),,,\nProject,Cost code,Nov 26,Dec 26\nHybrid ferry Tolsk,110,108000,127080\n",
    ),
    put(
      "Forecast October 2026.csv",
      "Forecast November 2026\nProject,Cost code,Dec 2026\nFR-02,110,500\n",
    ),
  ]);
  await expect(page.locator(".sentence")).toContainText(
    "Two questions wait for an answer",
  );
  await expect(page.getByRole("button", { name: "Accept" })).toBeDisabled();
  await accessible(page);
  await sheet(page, "Actuals to date")
    .getByRole("button", { name: "all up to the period" })
    .click();
  await expect(page.locator(".sentence")).toContainText(
    "One question waits for an answer",
  );
  await expect(sheet(page, "Actuals to date")).toContainText(
    "each is lessened by what the row has in the period before",
  );
  await sheet(page, "Forecast October")
    .getByRole("button", { name: "2026-11" })
    .click();
  await expect(page.locator(".sentence")).not.toContainText("question");
  await expect(
    sheet(page, "Dredging schedule.csv, sheet progress").locator(".tallies"),
  ).toContainText("2 new");
  await expect(page.getByRole("button", { name: "Accept" })).toBeEnabled();
  await page.getByRole("button", { name: "Throw away" }).click();
});
