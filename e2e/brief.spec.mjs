// The brief is put together, read page by page, made, and downloaded again; and
// what it says is what the screens say.
import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import { accessible, expect, fits, test } from "./pages.mjs";

const words = (s) => s.replace(/\s+/g, " ").trim();

async function download(page, click) {
  const [file] = await Promise.all([page.waitForEvent("download"), click()]);
  return {
    name: file.suggestedFilename(),
    body: readFileSync(await file.path()),
  };
}

const hash = (b) => createHash("sha256").update(b).digest("hex");

test("the portfolio brief says what the screens say, and stays as it was made", async ({
  page,
  as,
  context,
}) => {
  await as("analyst");
  await page.goto("/board?at=2026-10&vs=2026-09");
  const sentence = words(await page.locator(".sentence").innerText());
  const board = await page
    .locator("table.board tbody tr:not(.group)")
    .evaluateAll((rows) =>
      rows.map((r) => [
        r.querySelector(".code").textContent,
        ...[
          "c-computed_over",
          "c-at_stake",
          "c-finish_stated",
          "c-finish_slip",
        ].map((c) =>
          r.querySelector("td." + c)?.firstElementChild?.textContent.trim(),
        ),
      ]),
    );
  expect(board.length).toBe(26);

  await page.keyboard.press("5");
  await expect(page).toHaveURL(/\/brief\?at=2026-10&vs=2026-09/);
  await expect(page.locator(".tools b")).toHaveText(/Page 1 of \d+/);
  const leaf = words(
    (await page.locator(".paper svg text").allTextContents()).join(" "),
  );
  expect(leaf.replaceAll(" ", "")).toContain(sentence.replaceAll(" ", ""));
  await accessible(page);
  await fits(page);
  await page.keyboard.press(".");
  await expect(page.locator(".tools b")).toHaveText(/Page 2 of/);
  await expect(page.locator(".paper svg")).toHaveAttribute(
    "viewBox",
    /^0 0 841/,
  );

  // Pages are left out, turned and put in another order.
  await page
    .locator(".pagelist li", { hasText: "Exceptions" })
    .getByLabel("Leave out")
    .click();
  await expect(page.locator(".outline")).not.toContainText("Exceptions");
  await page
    .locator(".pagelist li", { hasText: "What moved" })
    .getByLabel("Earlier")
    .click();
  await expect(page.locator(".outline li").nth(1)).toContainText("What moved");
  await page
    .locator(".pagelist li", { hasText: "The board" })
    .getByText("landscape")
    .click();
  await expect(
    page.locator(".pagelist li", { hasText: "The board" }),
  ).toContainText("portrait");
  await page.goto("/brief?at=2026-10&vs=2026-09");

  await page.getByRole("button", { name: "Make this brief" }).click();
  await expect(page.getByRole("status")).toContainText("made and frozen");
  const made = page.locator("aside .lines li").first();
  await expect(made).toContainText("Portfolio brief: Skerrow Sound, Oct 2026");
  const pdf = await download(page, () =>
    made.getByRole("link", { name: "PDF" }).click(),
  );
  expect(pdf.body.subarray(0, 5).toString()).toBe("%PDF-");
  expect(pdf.name).toMatch(/^Portfolio brief_ Skerrow Sound, Oct 2026\.pdf$/);
  const again = await download(page, () =>
    made.getByRole("link", { name: "PDF" }).click(),
  );
  expect(hash(again.body)).toBe(hash(pdf.body));
  const now = await download(page, () =>
    page.locator(".tools").getByRole("link", { name: "PDF" }).click(),
  );
  expect(hash(now.body)).toBe(hash(pdf.body));

  // The HTML is one file that needs no other: read alone, it has every figure.
  const html = await download(page, () =>
    made.getByRole("link", { name: "HTML" }).click(),
  );
  const alone = await context.newPage();
  const asked = [];
  alone.on("request", (r) => asked.push(r.url()));
  await alone.setContent(html.body.toString());
  expect(asked.filter((u) => !u.startsWith("data:"))).toEqual([]);
  expect(words(await alone.locator(".sentence").first().innerText())).toBe(
    sentence,
  );
  const table = alone.locator("section", {
    has: alone.locator("h1", { hasText: "The board" }),
  });
  for (const [code, ...shown] of board) {
    const row = words(
      await table
        .locator("tr", { hasText: code + " " })
        .first()
        .innerText(),
    );
    for (const text of shown) expect(row, code).toContain(text);
  }
  await alone.close();

  // As slides: each of them has the words as text.
  const slides = await download(page, () =>
    made.getByRole("link", { name: "slides" }).click(),
  );
  expect(slides.name).toMatch(/\.pptx$/);
  expect(slides.body.subarray(0, 2).toString()).toBe("PK");

  await made.getByText("Withdraw", { exact: true }).click();
  await made.getByLabel("Why it no longer holds").fill("a rate was wrong");
  await made.getByRole("button", { name: "Withdraw it" }).click();
  await expect(page.locator("aside .lines li").first()).toContainText(
    "Withdrawn by Ines Marlow: a rate was wrong",
  );
});

test("a project's brief, and the executive reads but makes none", async ({
  page,
  as,
}) => {
  await as("executive");
  await page.goto("/project/QS-01");
  const sentence = words(await page.locator(".sentence").innerText());
  await page.goto("/brief");
  await page.locator("select[name=of]").selectOption("QS-01");
  await page.getByRole("button", { name: "Show" }).click();
  await expect(page.locator(".outline li")).toHaveCount(3);
  const leaf = (await page.locator(".paper svg text").allTextContents()).join(
    "",
  );
  expect(leaf.replaceAll(" ", "")).toContain(sentence.replaceAll(" ", ""));
  await expect(
    page.getByRole("button", { name: "Make this brief" }),
  ).toHaveCount(0);
});

test("tables are taken as CSV, charts as SVG and PNG, the board as XLSX", async ({
  page,
  as,
}) => {
  await as("executive");
  await page.goto("/project/FR-01");
  await page.keyboard.press("d");
  const dialog = page.getByRole("dialog", { name: "Take from this page" });
  await expect(dialog).toBeVisible();
  const csv = await download(page, () =>
    dialog.getByRole("button", { name: "Money by cost code as CSV" }).click(),
  );
  const lines = csv.body.toString("utf8").split("\r\n");
  expect(lines[0]).toContain("Cost code,Plan,Spent");
  const last = lines.at(-2).split(",");
  expect(last[0]).toBe("All");
  expect(Number(last[1])).toBeGreaterThan(40_000);
  const svg = await download(page, () =>
    dialog.getByRole("button", { name: "Money over time as SVG" }).click(),
  );
  expect(svg.body.toString()).toContain('stroke="rgb(');
  expect(svg.body.toString()).not.toContain("href");
  const png = await download(page, () =>
    dialog.getByRole("button", { name: "Money over time as PNG" }).click(),
  );
  expect(png.body.subarray(1, 4).toString()).toBe("PNG");
  expect(png.body.length).toBeGreaterThan(5000);
  await dialog.getByRole("button", { name: "Close" }).click();
  await page.goto("/board");
  const xlsx = await download(page, () =>
    page.getByRole("link", { name: "XLSX" }).click(),
  );
  expect(xlsx.body.subarray(0, 2).toString()).toBe("PK");
});
