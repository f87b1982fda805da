// How long it takes from a key until the cell that it changes is painted, in a statement of
// 60 rows and 36 columns: node bench/keys.mjs ADDRESS LOGIN PASSWORD PATH prints
// milliseconds, the 95th percentile of 300 keys; with paste after them also how long it takes
// until 2,000 cells are pasted and painted.
import { chromium } from "@playwright/test";
import { launch, viewport } from "../e2e/browser.mjs";

const [base, login, password, path, then] = process.argv.slice(2);
const browser = await chromium.launch(launch);
const page = await browser.newPage({ viewport });
await page.goto(base + "/sign-in");
await page.getByLabel("Sign-in name").fill(login);
await page.getByLabel("Password").fill(password);
await page.getByRole("button", { name: "Sign in" }).click();
await page.waitForURL(/\/board/);
await page.goto(base + path);
// The statement is made as large as the largest, of its own cells.
await page.evaluate(() => {
  const body = document.querySelector("form.stating tbody");
  const row = body.querySelector("tr:has(input.cell)");
  for (const other of [...body.children]) if (other !== row) other.remove();
  const cell = row.querySelector("td:has(input.cell)");
  for (let n = 0; row.querySelectorAll("input.cell").length < 36; n++) {
    const more = cell.cloneNode(true);
    for (const x of more.querySelectorAll("[name]")) x.name += "-" + n;
    row.append(more);
    const heads = document.querySelector("form.stating thead tr");
    if (heads.cells.length < row.cells.length)
      heads.append(heads.lastElementChild.cloneNode(true));
  }
  for (let n = 0; body.querySelectorAll("tr").length < 60; n++) {
    const more = row.cloneNode(true);
    for (const x of more.querySelectorAll("[name]")) x.name += "_" + n;
    body.append(more);
  }
  document.dispatchEvent(new Event("htmx:afterSettle"));
  window.times = [];
  addEventListener(
    "keydown",
    (e) => {
      const channel = new MessageChannel();
      channel.port1.onmessage = () =>
        window.times.push(performance.now() - e.timeStamp);
      requestAnimationFrame(() => channel.port2.postMessage(0));
    },
    true,
  );
});
const cells = page.locator("form.stating input.cell");
for (let i = 0; i < 60; i++) {
  const cell = cells.nth(i * 36 + (i % 36));
  await cell.evaluate((c) =>
    c.closest("td").scrollIntoView({ block: "nearest", inline: "nearest" }),
  );
  await cell.click();
  for (const key of ["1", "2", "3", ".", "5"]) {
    await page.keyboard.press(key);
    await page.waitForTimeout(60); // as fast as people type
  }
}
const times = await page.evaluate(() => window.times);
times.sort((a, b) => a - b);
if (times.length < 300) throw new Error(`only ${times.length} keys came`);
console.log(times[Math.floor(times.length * 0.95)]);
if (then === "paste")
  console.log(
    await page.evaluate(async () => {
      const row = Array.from({ length: 35 }, (_, i) => String(1000 + i));
      const text = Array.from({ length: 58 }, () => row.join("\t")).join("\n");
      const cell = document.querySelector("form.stating input.cell");
      cell.closest("td").classList.remove("far");
      cell.focus();
      const data = new DataTransfer();
      data.setData("text/plain", text);
      const begun = performance.now();
      cell.dispatchEvent(
        new ClipboardEvent("paste", {
          clipboardData: data,
          bubbles: true,
          cancelable: true,
        }),
      );
      await new Promise((done) => {
        const channel = new MessageChannel();
        channel.port1.onmessage = done;
        requestAnimationFrame(() => channel.port2.postMessage(0));
      });
      const last = [
        ...document.querySelectorAll("form.stating input.cell"),
      ].filter((x) => x.value === "1034");
      if (last.length < 50)
        throw new Error(`only ${last.length} rows were pasted`);
      return performance.now() - begun;
    }),
  );
await browser.close();
