// Two months of ten senders: in the first, four questions are answered, one column is pointed
// at and one row that looks like a sum is put back; the next month's ten are taken without
// a question.
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { accessible, expect, fits, test } from "./pages.mjs";

const months = [
  {
    name: "December 2026",
    short: "Dec 2026",
    code: "2026-12",
    of: "12",
    year: 2026,
    next: ["Jan 2027", "Feb 2027"],
    by: 1,
  },
  {
    name: "January 2027",
    short: "Jan 2027",
    code: "2027-01",
    of: "01",
    year: 2027,
    next: ["Feb 2027", "Mar 2027"],
    by: 1.02,
  },
];

// senders are the ten, each with its own way to write; a month gives its file.
const senders = {
  "Linkspan forecast": (m, x) =>
    `Forecast ${m.name}\nAmounts in EUR\n\nProject;Cost code;${m.next.join(";")};Total\n` +
    `QS-02;110;${x(36225)};${x(26783)};${x(36225, 26783)}\nQS-02;500;${x(9056)};${x(6696)};${x(9056, 6696)}\n` +
    `Total;;${x(36225, 9056)};${x(26783, 6696)};${x(36225, 26783, 9056, 6696)}\n`,
  "Engine room": (m, x) =>
    `Engine-room monitoring, ${m.name}\nCost code;${m.next.join(";")}\n110;${x(11737)};${x(9104)}\n210;${x(37167)};${x(28830)}\n`,
  "Roof returns": (m, x) =>
    `Forecast ${m.name}\nProject;Cost code;${m.next.join(";")}\n` +
    `PS-02;110;${x(10.508)};${x(5.059)}\nPS-02;210;${x(33.274)};${x(16.021)}\nPS-02;220;${x(14.01)};${x(6.746)}\n`,
  "Yard ledger": (m, x) =>
    `Document;Booked;Project;Account;Text;Amount EUR\n` +
    `Y${m.code}-1;03/${m.of}/${m.year};FR-07;210;Cable;${x(4100)}\nY${m.code}-2;05/${m.of}/${m.year};FR-07;220;Drums;${x(2300)}\n`,
  "Gate risks": (m) =>
    `Risk register ${m.name}\nProject;Ref;Description;Likelihood;Impact;State\n` +
    `PS-03;R1;Supplier delivers late;M;H;Open\nPS-03;R2;Weather window missed;L;M;Open\n`,
  "Signals costs": (m, x) =>
    `Forecast ${m.name}\nProject;Cost code;Month;Neu\nFR-07;110;${m.next[0]};${x(16094)}\nFR-07;110;${m.next[1]};${x(15115)}\n`,
  "Care returns": (m, x) =>
    `Forecast ${m.name}\nItem;Project;Cost code;${m.next.join(";")}\n` +
    `Staff;PS-03;110;${x(17154)};${x(13371)}\nTotal care fee;PS-03;120;${x(14295)};${x(11142)}\n`,
  Commentary: (m) =>
    `Commentary ${m.name};;\nProject;Summary;Next steps\nPS-02;The roof is on in ${m.name}.;Fit the gutters.\nFR-07;Cables are pulled.;Test them.\n`,
  "Exchange rates": (m) =>
    `Exchange rates ${m.name}\nCurrency;Rate\nNOK;0,0865\nGBP;1,1810\n`,
  Accruals: (m, x) =>
    `Accruals ${m.name}\nProject;Account;Supplier;Amount\nQS-02;210;Brae Marine Works;${x(5200)}\nFR-05;220;Lumen Quayworks;${x(1200)}\n`,
};

function post(m) {
  const dir = mkdtempSync(join(tmpdir(), "turret-senders-"));
  const x = (...list) =>
    list
      .reduce((a, b) => a + Number((b * m.by).toFixed(2)), 0)
      .toFixed(2)
      .replace(".", ",");
  return Object.entries(senders).map(([name, write]) => {
    const path = join(dir, `${name} ${m.short}.csv`);
    writeFileSync(path, write(m, x));
    return path;
  });
}

const sheet = (page, name) =>
  page.locator(".sheetview", { has: page.locator("h2", { hasText: name }) });

async function send(page, paths) {
  await page.goto("/gather");
  await page.setInputFiles("#files", paths);
  await page.waitForURL(/\/gather\/draft\/\d+/);
  await expect(page.locator(".sheetview").first()).toBeVisible();
}

test("two months of ten senders: four questions, then none", async ({
  page,
  as,
}) => {
  await as("analyst");
  // Each file states a part of its projects: the office lets forecasts move.
  await page.goto("/setup/mappings");
  await page.getByLabel("Times more or less").fill("500");
  await page.getByRole("button", { name: "Keep the limit" }).click();
  await expect(page.getByRole("status")).toContainText("The limit is kept.");
  await send(page, post(months[0]));
  await expect(page.locator(".sentence")).toContainText(
    "questions wait for an answer",
  );
  await accessible(page);
  await fits(page);

  // Four questions, each with its answers as buttons.
  const answers = [
    ["Engine room", "forecast"],
    ["Roof returns", "thousands"],
    ["Yard ledger", "day first"],
    ["Gate risks", "of three: 2, 3, 4"],
  ];
  for (const [name, choice] of answers) {
    await expect(sheet(page, name).locator("ul.asks li")).not.toHaveCount(0);
    await sheet(page, name)
      .getByRole("button", { name: choice, exact: true })
      .click();
    await expect(sheet(page, name).locator("ul.asks li")).toHaveCount(0);
  }

  // One column is pointed at.
  const signals = sheet(page, "Signals costs");
  await expect(signals.locator("ul.asks li")).toContainText(
    "no column holds amount",
    { ignoreCase: true },
  );
  await signals.getByLabel("What Neu is").selectOption("amount");
  await signals.getByRole("button", { name: "Read it again so" }).click();
  await expect(signals.locator("ul.asks li")).toHaveCount(0);

  // One row that looks like a sum is put back.
  const care = sheet(page, "Care returns");
  const row = care.locator("tbody.sent tr", { hasText: "Total care fee" });
  await expect(row).toHaveAttribute("data-as", "sum");
  await row.locator("td").nth(2).click();
  await expect(care.locator(".meaning")).toContainText(
    "The row is taken as sum",
  );
  await row.hover();
  if (await care.locator("ul.asks li").count()) {
    // The sum does not agree, since it is none.
    await expect(care.locator("ul.asks li")).toContainText(
      "is not that of its rows",
    );
  }
  await row.getByRole("button", { name: "It is a row" }).click();
  await expect(
    care.locator("tbody.sent tr", { hasText: "Total care fee" }),
  ).toHaveAttribute("data-as", "row");
  await expect(care.locator("ul.asks li")).toHaveCount(0);

  await page.getByRole("button", { name: "Accept" }).click();
  await page.waitForURL(/\/gather\/run\/\d+/, { waitUntil: "commit" });
  const runs = [page.url()];

  // The next month: nothing is asked, and all is read the same way.
  await send(page, post(months[1]));
  await expect(page.locator("ul.asks li")).toHaveCount(0);
  await expect(page.getByRole("button", { name: "Accept" })).toBeEnabled();
  await expect(sheet(page, "Roof returns")).toContainText(
    "Amounts are taken in thousands, as was said of such a sheet before",
  );
  for (const name of Object.keys(senders))
    await expect(sheet(page, name).locator(".tallies")).toContainText(
      "0 refused",
    );
  await page.getByRole("button", { name: "Accept" }).click();
  await page.waitForURL(/\/gather\/run\/\d+/, { waitUntil: "commit" });
  runs.unshift(page.url());

  // All of it is taken back, and what was remembered is taken away.
  for (const run of runs) {
    await page.goto(run);
    await page.getByRole("button", { name: "Undo the run" }).click();
    await expect(page.getByRole("status")).toContainText("The run is undone");
  }
  await page.goto("/setup/mappings");
  const kept = page.getByRole("row", { name: /As said/ });
  for (let n = await kept.count(); n > 0; n--) {
    await kept.first().getByRole("button", { name: "Take away" }).click();
    await expect(kept).toHaveCount(n - 1);
  }
});

test("heads that nobody knows are named once, for every file", async ({
  page,
  as,
}) => {
  await as("analyst");
  const dir = mkdtempSync(join(tmpdir(), "turret-heads-"));
  const first = join(dir, "Kulut marraskuu.csv");
  const next = join(dir, "Muut.csv");
  writeFileSync(first, "Hanke,Laji,Toteuma\nQS-01,210,5.00\n");
  writeFileSync(next, "Laji,Toteuma,Hanke\n210,7.00,QS-05\n");
  await send(page, [first]);
  const kulut = sheet(page, "Kulut");
  await expect(kulut).toContainText("no table was found in it");
  await kulut.getByLabel("Table").selectOption("costs");
  await kulut.getByRole("button", { name: "Read it again so" }).click();
  await kulut.getByLabel("What Toteuma is").selectOption("amount");
  await kulut.getByLabel("These heads mean the same in every file").check();
  await kulut.getByRole("button", { name: "Read it again so" }).click();
  await expect(kulut).not.toContainText("no table was found in it");
  await expect(kulut.getByLabel("What Toteuma is")).toHaveValue("amount");
  await accessible(page);
  await page.getByRole("button", { name: "Throw away" }).click();

  // The next file has them in another order, and columns are known.
  await send(page, [next]);
  const muut = sheet(page, "Muut");
  await expect(muut.getByLabel("What Toteuma is")).toHaveValue("amount");
  await expect(muut.getByLabel("What Hanke is")).toHaveValue("project");
  await page.getByRole("button", { name: "Throw away" }).click();
  await page.goto("/setup/mappings");
  await expect(page.locator("main")).toContainText("toteuma");
});
