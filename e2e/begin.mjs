// An office that begins: a server on an empty database, and its first
// administrator, who invites the analysts.
import { spawn } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";

const turret = fileURLToPath(new URL("../bin/turret", import.meta.url));
const password = "a lamp on every quay";

// begin serves an empty database on an address, and gives the link of its first
// administrator.
export async function begin(base) {
  const db = join(mkdtempSync(join(tmpdir(), "turret-empty-")), "turret.db");
  const server = spawn(turret, ["serve", "--db", db, "--addr", base.slice(7)], {
    stdio: ["ignore", "pipe", "ignore"],
  });
  const welcome = await new Promise((found) => {
    let said = "";
    server.stdout.on("data", (text) => {
      said += text;
      const link = said.match(/http\S+\/welcome\/\S+/);
      if (link) found(link[0]);
    });
  });
  return { server, welcome };
}

async function settle(page) {
  await page.getByLabel(/^Password/).fill(password);
  await page.getByLabel(/once more/).fill(password);
  await page.getByRole("button", { name: "Set the password" }).click();
  await page.waitForURL(/\/(board|desk)/);
}

// admit enters as the first administrator, and brings analysts in.
export async function admit(page, browser, base, welcome, analysts) {
  await page.goto(welcome);
  await page.getByLabel("Your name").fill("Una Calder");
  await page.getByLabel("Sign-in name").fill("una");
  await settle(page);
  for (const [login, name] of Object.entries(analysts)) {
    await page.goto(base + "/setup/accounts");
    await page.getByLabel("Name", { exact: true }).fill(name);
    await page.getByLabel("Sign-in name").fill(login);
    await page.locator("select[name=role]").last().selectOption("analyst");
    await page.getByRole("button", { name: "Make a one-time link" }).click();
    const link = await page.locator(".once code").innerText();
    const guest = await browser.newPage();
    await guest.goto(link);
    await settle(guest);
    await guest.close();
  }
}

// enter signs one of them in.
export async function enter(page, base, login) {
  await page.goto(base + "/sign-in");
  await page.getByLabel("Sign-in name").fill(login);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.waitForURL(/\/(board|desk)/);
}
