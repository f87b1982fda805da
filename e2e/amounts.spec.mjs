// Money by hand: three years of a new project are planned by pasting and spreading, proposed
// and approved by someone else; a forecast carries on what did not come; where money runs out
// is read, and more is authorised; a ledger is held against what its source told.
import { signIn } from "./browser.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";

const cents = (text) =>
  Math.round(
    Number(text.replaceAll(",", "").replace("−", "-").replace("—", "0")) * 100,
  );

// paste puts a text into a cell as a spreadsheet's clipboard does.
const paste = (cell, text) =>
  cell.evaluate((node, text) => {
    node.focus();
    const data = new DataTransfer();
    data.setData("text/plain", text);
    node.dispatchEvent(
      new ClipboardEvent("paste", {
        clipboardData: data,
        bubbles: true,
        cancelable: true,
      }),
    );
  }, text);

const kept = (page) =>
  expect(page.locator(".kept")).toContainText("Kept, and not sent yet");

test("plans three years of a new project by pasting and spreading; someone else approves it", async ({
  page,
  as,
  browser,
  baseURL,
}) => {
  test.setTimeout(240_000);
  await as("analyst");
  await page.goto("/begin");
  await page.getByLabel("Code").fill("QS-90");
  await page.getByLabel("Name", { exact: true }).fill("Ice wall");
  await page.getByLabel("Starts on").fill("2026-12-01");
  await page.getByRole("button", { name: "Begin the project" }).click();
  await page.waitForURL(/plan\/QS-90/);
  await page.goto("/amounts/QS-90/plan");
  await expect(page.locator(".note")).toContainText("There is no line yet");
  const add = async (code, flow) => {
    await page.getByText("Add a line", { exact: true }).click();
    const form = page.locator("details.end form");
    await form.getByLabel("Cost code").fill(code);
    if (flow) await form.getByLabel("Flow").selectOption(flow);
    await form.getByRole("button", { name: "Add it" }).click();
    await expect(page.getByRole("status").first()).toContainText(
      "The line is there",
    );
  };
  await add("Main contract");
  await add("110");
  await accessible(page);
  await fits(page);

  // Two rows of a German spreadsheet are pasted: decimals behind a comma.
  const cell = (line, month) => page.getByLabel(`${line} ${month}`);
  await paste(
    cell("110 Own staff", "Dec 2026"),
    "1.000,50\t2.000,00\t3.000,25\r\n10.000,00\t20.000,00\t30.000,75\r\n",
  );
  await expect(cell("110 Own staff", "Feb 2027")).toHaveValue("3000.25");
  await expect(cell("210 Main contract", "Feb 2027")).toHaveValue("30000.75");
  await expect(page.locator("tfoot output").last()).toHaveText("66,001.50");
  await kept(page);

  // What is no amount is marked, and the rest waits for a yes.
  page.once("dialog", (d) => {
    expect(d.message()).toContain("1 of 3 cells are no amounts");
    void d.accept();
  });
  await paste(cell("110 Own staff", "Mar 2027"), "10\tsoon\t30");
  await expect(cell("110 Own staff", "Apr 2027")).toHaveClass(/wrong-cell/);
  await expect(cell("110 Own staff", "May 2027")).toHaveValue("30");
  await kept(page);

  // Filled to the right, and taken back.
  await cell("110 Own staff", "May 2027").click();
  await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("Control+r");
  await expect(cell("110 Own staff", "Jun 2027")).toHaveValue("30");
  await page.keyboard.press("Control+z");
  await expect(cell("110 Own staff", "Jun 2027")).toHaveValue("");
  await page.getByRole("button", { name: "Drop what I typed here" }).click();
  await add("Main contract");

  // A total along an S-curve over a year, repeated into two more.
  const block = page.locator("form.block");
  await block.getByRole("textbox", { name: "Total" }).fill("1200000.01");
  await block.getByLabel("How").selectOption("curve");
  await block.locator('[name="from"]').selectOption("2026-12");
  await block.locator('[name="to"]').selectOption("2027-03");
  await block.getByRole("button", { name: "See what it does" }).click();
  await expect(page.locator("#preview")).toContainText("1,200,000.01");
  await page.getByRole("button", { name: "Keep it in the draft" }).click();
  await expect(page.locator("tfoot output").last()).toHaveText("1,200,000.01");
  await block.getByLabel("What").selectOption("repeat");
  await block.getByRole("textbox", { name: "Years" }).fill("2");
  await block.locator('[name="from"]').selectOption("2026-12");
  await block.locator('[name="to"]').selectOption("2027-03");
  await block.getByRole("button", { name: "See what it does" }).click();
  await page.getByRole("button", { name: "Keep it in the draft" }).click();
  await expect(page.locator("tfoot output").last()).toHaveText("3,600,000.03");
  await expect(page.locator("#effect")).toContainText("FY29");
  await page.getByRole("button", { name: "Keep it as the plan" }).click();
  await expect(page.getByRole("status").first()).toContainText("Sent.");
  await page.goto("/project/QS-90");
  const bac = page.locator("table.codes tfoot tr td").first();
  await expect(bac).toHaveText("3,600");

  // A baseline is proposed, and typed until it is decided.
  await page
    .getByRole("link", { name: /^baselines/ })
    .first()
    .click();
  await page.getByLabel("Reason").fill("The wall is longer than surveyed");
  await page.getByLabel("to be typed, from the plan as it is now").check();
  await page.getByRole("button", { name: "Propose it" }).click();
  await expect(page.locator("h1")).toContainText("baseline 2, proposed");
  await block.getByLabel("What").selectOption("total");
  await block.getByRole("textbox", { name: "Total" }).fill("4000000");
  await block.getByRole("button", { name: "See what it does" }).click();
  await page.getByRole("button", { name: "Keep it in the draft" }).click();
  await page.getByRole("button", { name: "Keep it as the plan" }).click();
  await expect(page.getByRole("status").first()).toContainText("Sent.");
  await page.goto("/project/QS-90");
  await expect(bac).toHaveText("3,600");

  // Someone else approves it; from then on it is shut.
  const other = await browser.newPage({ baseURL });
  await signIn(other, "executive", baseURL);
  await other.goto("/baseline?of=QS-90&version=2");
  await other.getByLabel("In force from").fill("2026-11-20");
  await other.getByRole("button", { name: "Approve it" }).click();
  await expect(other.getByRole("status")).toContainText("It is approved");
  await other.close();
  await page.goto("/project/QS-90");
  await expect(bac).toHaveText("4,000");
  await page.goto("/amounts/QS-90/plan");
  await expect(page.getByRole("status").first()).toContainText("approved");
  await expect(page.locator(".grid.money .cell")).toHaveCount(0);
});

test("states a forecast by carrying on what was not spent, and takes it out to the cent", async ({
  page,
  as,
}) => {
  test.setTimeout(240_000);
  await as("analyst");
  await page.goto("/project/QS-03");
  await page.goto("/amounts/QS-02/forecast");
  const sum = page.locator("tfoot output").last();
  const before = cents(await sum.textContent());
  const block = page.locator("form.block");
  await block.getByLabel("What").selectOption("scale");
  await block.getByRole("textbox", { name: "Percent" }).fill("110");
  await block.getByRole("button", { name: "See what it does" }).click();
  await page.getByRole("button", { name: "Keep it in the draft" }).click();
  await expect
    .poll(async () => Math.abs(cents(await sum.textContent()) - before * 1.1))
    .toBeLessThan(10);
  const first = page.locator(".grid.money .cell").first();
  await first.click();
  await page.keyboard.type("=1200*3/4");
  await page.keyboard.press("Enter");
  await expect(first).toHaveValue("900");
  await kept(page);
  await accessible(page);
  await fits(page);
  const fact = (name) =>
    page
      .locator(".facts tr", {
        has: page.getByRole("rowheader", { name, exact: true }),
      })
      .locator("output");
  const outlook = cents(await fact("Outlook").textContent());
  const toGo = cents(await fact("Still to come").textContent());
  expect(toGo).toBe(cents(await sum.textContent()));
  await page.getByRole("button", { name: "Send it" }).click();
  await expect(page.getByRole("status").first()).toContainText("Sent.");
  await page.goto("/amounts/QS-02/forecast");
  expect(cents(await sum.textContent())).toBe(toGo);
  // The money table, as text that is taken out, has the same forecast to the cent.
  const lines = await page.evaluate(async () => {
    const answer = await fetch(
      "/money.csv?of=QS-02&rows=code&amounts=forecast",
    );
    return (await answer.text()).trim().split("\n");
  });
  const columns = lines[0].split(",");
  for (const [month, code] of [
    ["Dec", "2026-12"],
    ["Jan", "2027-01"],
    ["Feb", "2027-02"],
    ["Mar", "2027-03"],
  ]) {
    const at = columns.lastIndexOf(month);
    const taken = lines
      .slice(1)
      .map((line) => line.split(","))
      .filter((row) => row[0] === "1")
      .reduce((sum, row) => sum + cents(row[at]), 0);
    const typed = page.locator(`tfoot output[data-sum="${code}"]`);
    expect(taken, month).toBe(cents(await typed.textContent()));
  }
  expect(outlook).toBeGreaterThan(toGo);
});

test("reads where money runs out, and authorises more", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/board");
  await page.getByRole("link", { name: "Funding", exact: true }).click();
  await expect(page.locator(".sentence")).toContainText(/is authorised, and/);
  await accessible(page);
  await fits(page);
  const row = page.getByRole("row", { name: /QS-07 / });
  await expect(row).toContainText("28 Feb 2027");
  const form = page.locator("#form form").first();
  await form.getByLabel("For").fill("QS-07");
  await form.getByLabel("Source").fill("Harbour fund");
  await form.getByLabel("From").fill("2026-12");
  await form.getByLabel("Amount").fill("200000");
  await form.getByRole("button", { name: "Record it" }).click();
  await expect(page.locator("#form .is-invalid")).toHaveAttribute(
    "name",
    "decision",
  );
  complaints.splice(0);
  await form.getByLabel("Decision").fill("harbour board, 1 December 2026");
  await form.getByRole("button", { name: "Record it" }).click();
  await expect(page.getByRole("status").first()).toContainText("recorded");
  await expect(row).not.toContainText("2027");
  await row.getByRole("link").nth(1).click();
  await expect(page.locator("#trail, main")).toContainText("Harbour fund");
});

test("holds a ledger against what its source told: three cents never came", async ({
  page,
  as,
  complaints,
}) => {
  await as("analyst");
  await page.goto("/check");
  await page.getByRole("link", { name: /^Ledger/ }).click();
  await expect(page.locator(".sentence")).toContainText(
    "1 control total differs",
  );
  await page
    .getByRole("row", { name: /EUR/ })
    .first()
    .getByRole("link")
    .first()
    .click();
  await expect(page.locator("#one")).toContainText("+0.03 EUR");
  await expect(page.locator("#one")).toContainText("waits for a code");
  await accessible(page);
  await fits(page);

  // The code that it waits for is given, and the posting that never came is sent.
  await page.goto("/gather");
  await page
    .locator('input[type="file"]')
    .first()
    .setInputFiles([
      {
        name: "cost_codes.csv",
        mimeType: "text/csv",
        buffer: Buffer.from("cost_code,name\n7990,Sundries of old\n"),
      },
      {
        name: "postings 2026-11 (2).csv",
        mimeType: "text/csv",
        buffer: Buffer.from(
          "posting,date,project,cost_code,class,amount,currency\nLX-2026-11,2026-11-30,QS-06,7990,opex,1860.00,EUR\nLC-1,2026-11-30,QS-06,230,capex,0.03,EUR\n",
        ),
      },
    ]);
  await page
    .getByRole("button", { name: /^Take|^Accept/ })
    .first()
    .click();
  await page.goto("/ledger");
  await expect(page.getByRole("row", { name: /EUR/ }).first()).toContainText(
    "0.00",
  );
  complaints.splice(0);
});

test("keeps a version first, sets lines below heads by key and by dragging, and carries on what did not come", async ({
  page,
  as,
}) => {
  test.setTimeout(240_000);
  await as("analyst");
  await page.goto("/amounts/QS-02/forecast");
  const cell = (line, month) => page.getByLabel(`${line} ${month}`);
  await page.getByText("Keep a version first").click();
  const version = page.locator("details.end form", { hasText: "kept under" });
  await version.getByLabel("Name").fill("Before the talk");
  await version.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("status").first()).toContainText(
    "The version is kept",
  );
  await expect(page.locator(".parts .dropdown > button")).toContainText(
    "Beside: Kept: Before the talk, Nov 2026",
  );

  // What is typed stands beside it, and its head's sum follows.
  await page.locator("h1").click();
  await page.keyboard.press("g");
  await expect(page.locator("tr[data-group] th").first()).toHaveText(
    "100 Labour",
  );
  const head = page.locator("tr[data-group]").first().locator("output");
  const before = cents(await head.nth(3).innerText());
  const staff = cell("110 Own staff · opex", "Dec 2026");
  const was = cents(await staff.inputValue());
  await staff.fill("50000.01");
  await expect(head.nth(3)).toHaveText(
    ((before - was + 5000001) / 100).toLocaleString("en", {
      minimumFractionDigits: 2,
    }),
  );
  await expect(
    page.locator("tr[data-line]").first().locator("td").nth(3),
  ).toContainText(
    (was / 100).toLocaleString("en", { maximumFractionDigits: 2 }),
  );
  await kept(page);

  // A head is dragged onto the table, within the first; the key takes them out again.
  await page
    .locator(".heads a", { hasText: "class" })
    .dragTo(page.locator(".grid.money thead th").first());
  await expect(page.locator("tr[data-group='1'] th").first()).toHaveText(
    "opex",
  );
  await expect(staff).toHaveValue("50000.01");
  await accessible(page);
  await page.locator("h1").click();
  await page.keyboard.press("g");
  await expect(page.locator("tr[data-group]")).toHaveCount(0);

  // A note is written by key.
  await staff.focus();
  await page.keyboard.press("Control+m");
  await page
    .getByLabel(/110 Own staff/)
    .last()
    .fill("Two more divers");
  await page.getByRole("button", { name: "Keep the note" }).click();
  await expect(page.getByRole("status").first()).toContainText("note is kept");
  await expect(staff).toHaveAttribute("title", "Two more divers");

  // The corner of a cell fills on to where it is let go.
  await staff.focus();
  const box = await staff.locator("xpath=ancestor::td").boundingBox();
  const to = await cell("110 Own staff · opex", "Feb 2027").boundingBox();
  await page.mouse.move(box.x + box.width - 4, box.y + box.height - 4);
  await page.mouse.down();
  await page.mouse.move(to.x + 20, to.y + 8, { steps: 4 });
  await page.mouse.up();
  await expect(cell("110 Own staff · opex", "Jan 2027")).toHaveValue(
    "50000.01",
  );
  await expect(cell("110 Own staff · opex", "Feb 2027")).toHaveValue(
    "50000.01",
  );
  await kept(page);

  // What was forecast for November and did not come moves on, after it is shown.
  const block = page.locator("form.block");
  await block.getByLabel("What").selectOption("carry");
  await block.getByRole("button", { name: "See what it does" }).click();
  await expect(page.locator("#preview")).toContainText("what it would do");
  await page.getByRole("button", { name: "Drop what I typed here" }).click();
  await expect(page.getByRole("status").first()).toContainText("is dropped");
});
