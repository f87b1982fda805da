// Accounts: refused, limited, expired, signed out everywhere, invited, disabled;
// and a lead who stays at home. On a server of its own, with short sessions.
import { spawn } from "node:child_process";
import { createHmac } from "node:crypto";
import { copyFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { people, signIn } from "./browser.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";
import { seed } from "./server.mjs";

const here = dirname(fileURLToPath(import.meta.url));
const base = "http://127.0.0.1:8498";
const servers = [];

// serve starts the demonstration on an address and waits until it answers.
async function serve(address, env = {}) {
  const db = join(seed, "..", `doors-${servers.length}.db`);
  copyFileSync(seed, db);
  const args = ["demo", "--db", db, "--addr", address.slice(7)];
  const options = { env: { ...process.env, ...env }, stdio: "ignore" };
  servers.push(spawn(join(here, "../bin/turret"), args, options));
  for (let i = 0; i < 1200; i++) {
    try {
      if ((await fetch(address + "/healthz")).ok) return;
    } catch {
      // not yet
    }
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error("the server does not answer");
}

test.describe.configure({ mode: "serial" });
test.use({ baseURL: base });
test.beforeAll(() => serve(base));
test.afterAll(() => servers.forEach((s) => s.kill()));

const door = async (page, login, password) => {
  await page.getByLabel("Sign-in name").fill(login);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
};

test("nobody in, nothing shown; the way leads back after signing in", async ({
  page,
}) => {
  await page.goto("/project/FR-01?vs=2026-09");
  await expect(page).toHaveURL(/sign-in\?next=/);
  await expect(page.getByText("Hybrid ferry")).toHaveCount(0);
  await accessible(page);
  await door(page, ...people.lead);
  await expect(page).toHaveURL(base + "/project/FR-01?vs=2026-09");
  await expect(page.locator("h1")).toContainText("Hybrid ferry Marrin");
});

test("an open session expires, and the next click asks to sign in again", async ({
  page,
}) => {
  const brief = "http://127.0.0.1:8499";
  const lasts = 8_000;
  await serve(brief, { TURRET_SESSION: `${lasts}ms` });
  await signIn(page, "executive", brief);
  const link = page.getByRole("link", {
    name: "Quays and slipways",
    exact: true,
  });
  await expect(async () => {
    await page.waitForTimeout(lasts); // since the page last fetched something
    await link.first().click();
    await expect(page).toHaveURL(/sign-in/, { timeout: 5_000 });
  }).toPass();
  await door(page, ...people.executive);
  await expect(page).toHaveURL(/\/board/);
});

test("signed out here, and everywhere", async ({ page, browser }) => {
  const other = await (await browser.newContext({ baseURL: base })).newPage();
  await signIn(page, "executive");
  await signIn(other, "executive");
  await page.goto("/account");
  await expect(page.locator("tbody tr")).not.toHaveCount(1);
  await accessible(page);
  await page.getByRole("button", { name: "Sign out everywhere" }).click();
  await expect(page).toHaveURL(/sign-in/);
  await other.goto("/board");
  await expect(other).toHaveURL(/sign-in/);
  await other.context().close();
  await signIn(page, "executive");
  await page.getByLabel(/^Account of/).click();
  await page.getByRole("button", { name: "Sign out" }).click();
  await expect(page).toHaveURL(/sign-in/);
  await page.goto("/board");
  await expect(page).toHaveURL(/sign-in/);
});

test("a lead does not reach what is not theirs", async ({
  page,
  complaints,
}) => {
  await signIn(page, "lead");
  await page.getByRole("link", { name: "Setup" }).click();
  await expect(page.locator('nav[aria-label="Setup"] a')).toHaveText([
    "Office",
    "Periods",
    "Calendars",
    "Rates",
    "Programmes",
    "Projects",
    "What is owed",
    "Who states",
    "Who reads",
    "Clients",
    "Estimates by stage",
    "Funding",
    "Control totals",
    "Packs",
    "Sections of words",
    "News",
    "Let in again",
    "Cost codes",
    "Cost centres",
    "Shares",
    "Rules",
    "Checks",
  ]);
  const answer = await page.goto("/setup/accounts");
  expect(answer.status()).toBe(403);
  await expect(page.locator("body")).toContainText(
    "Ada Brannock may not administer accounts",
  );
  await page.goto("/board");
  await page.getByText("Views", { exact: true }).click();
  await expect(page.getByLabel("Share it with everyone")).toHaveCount(0);
  complaints.splice(0);
});

test("an administrator invites, the invited enters once, and is shut out", async ({
  page,
  browser,
  complaints,
}) => {
  await signIn(page, "administrator");
  await page.getByRole("link", { name: "Setup" }).click();
  await accessible(page);
  await page.getByLabel("Name", { exact: true }).fill("Wren Tolliver");
  await page.getByLabel("Sign-in name").fill("Wren Tolliver");
  await page.getByRole("button", { name: "Make a one-time link" }).click();
  await expect(page.getByRole("alert")).toContainText("A sign-in name has");
  await expect(page.getByLabel("Name", { exact: true })).toHaveValue(
    "Wren Tolliver",
  );
  await page.getByLabel("Sign-in name").fill("wren");
  await page.locator("select[name=role]").last().selectOption("lead");
  await page.getByLabel("A lead's projects").fill("QS-01");
  await page.getByRole("button", { name: "Make a one-time link" }).click();
  const link = await page.locator(".once code").innerText();

  const guest = await (await browser.newContext({ baseURL: base })).newPage();
  await guest.goto(link);
  await accessible(guest);
  await guest.getByLabel(/^Password/).fill("short");
  await guest.getByLabel(/once more/).fill("short");
  await guest.getByRole("button", { name: /Set the password/ }).click();
  await expect(guest).toHaveURL(link); // the field itself asks for more
  await guest.getByLabel(/^Password/).fill("my name is wren");
  await guest.getByLabel(/once more/).fill("my name is wren");
  await guest.getByRole("button", { name: /Set the password/ }).click();
  await expect(guest.getByRole("alert")).toContainText("contains the sign-in");
  await guest.getByLabel(/^Password/).fill("low water at noon");
  await guest.getByLabel(/once more/).fill("low water at noon");
  await guest.getByRole("button", { name: /Set the password/ }).click();
  await expect(guest).toHaveURL(/\/desk/);
  expect((await guest.goto(link)).status()).toBe(404);
  await expect(guest.getByRole("alert")).toContainText("used up");

  await page.goto("/setup/accounts");
  await page
    .getByRole("row", { name: /Wren Tolliver/ })
    .getByRole("button", { name: "Disable" })
    .click();
  await expect(page.getByRole("status")).toContainText("disabled");
  await guest.goto("/board");
  await expect(guest).toHaveURL(/sign-in/);
  await page
    .getByRole("row", { name: /Una Calder/ })
    .getByRole("button", { name: "Disable" })
    .click();
  await expect(page.getByRole("alert")).toContainText("only administrator");
  await guest.context().close();
  complaints.splice(0);
});

test("refused, and after some attempts limited", async ({
  page,
  complaints,
}) => {
  await page.goto("/sign-in");
  await door(page, "ines", "not the password");
  await expect(page.getByRole("alert")).toContainText("is not right");
  await expect(page.getByLabel("Sign-in name")).toHaveValue("ines");
  await expect(page.getByLabel("Password")).toHaveValue("");
  await accessible(page);
  // A minute may end among the attempts, and they are counted anew; where it ends just
  // before the right password, that one is let in, and all is tried once more.
  const alert = page.getByRole("alert");
  for (let tries = 0; tries < 3; tries++) {
    for (let i = 0; i < 12; i++) {
      await door(page, "ines", `guess number ${i}`);
      if ((await alert.innerText()).includes("too many attempts")) break;
    }
    await expect(alert).toContainText("too many attempts");
    await door(page, ...people.analyst);
    await alert.or(page.locator(".rail")).first().waitFor();
    if (await alert.isVisible()) break;
    await page.context().clearCookies();
    await page.goto("/sign-in");
  }
  await expect(alert).toContainText("too many attempts");
  expect(complaints.splice(0).filter((c) => !/42[29]/.test(c))).toEqual([]);
});

// The code of a moment, as applications make it (RFC 6238).
function codeOf(secret, at = Date.now()) {
  const bits = [...secret]
    .map((c) => "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567".indexOf(c))
    .map((n) => n.toString(2).padStart(5, "0"))
    .join("");
  const key = Buffer.from(
    bits.match(/.{8}/g).map((byte) => Number.parseInt(byte, 2)),
  );
  const step = Buffer.alloc(8);
  step.writeBigUInt64BE(BigInt(Math.floor(at / 30_000)));
  const sum = createHmac("sha1", key).update(step).digest();
  const from = sum[19] & 15;
  const n = sum.readUInt32BE(from) & 0x7fffffff;
  return String(n % 1_000_000).padStart(6, "0");
}

test("a second factor is turned on, asked for at the door, and turned off", async ({
  page,
  browser,
}) => {
  await signIn(page, "executive");
  await page.goto("/account");
  await page.getByRole("link", { name: "Turn it on" }).click();
  await accessible(page);
  await fits(page);
  const secret = await page.locator('[name="secret"]').inputValue();
  await page.getByLabel("Code").fill(codeOf(secret));
  await page.getByRole("button", { name: "Turn it on" }).click();
  const codes = page.locator(".once code");
  await expect(codes).toHaveCount(10);
  await accessible(page);
  const [first, second] = await codes.allTextContents();

  const there = await (await browser.newContext({ baseURL: base })).newPage();
  await there.goto("/sign-in?next=/check");
  await door(there, ...people.executive);
  await expect(
    there.getByRole("heading", { name: "Your second factor" }),
  ).toBeVisible();
  await accessible(there);
  await there.getByLabel(/^The code/).fill("000000");
  await there.getByRole("button", { name: "Sign in" }).click();
  await expect(there.getByRole("alert")).toContainText("not right");
  await there.getByLabel(/^The code/).fill(first);
  await there.getByRole("button", { name: "Sign in" }).click();
  await expect(there).toHaveURL(/\/check/);
  await there.context().close();

  await page.goto("/account");
  await expect(page.locator("main")).toContainText("9 recovery codes are left");
  await page.goto("/account/second");
  await page.getByLabel(/recovery code/).fill(second);
  await page.getByRole("button", { name: "Turn it off" }).click();
  await expect(page.getByRole("status")).toContainText("factor is off");
});
