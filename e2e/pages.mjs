// What every browser test starts with: someone signed in, and a watch on the
// console, which must stay empty.
import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { test as base, expect } from "@playwright/test";
import { signIn } from "./browser.mjs";
import { serverOf } from "./server.mjs";

export { expect };

// settled waits until no part of a page is being fetched: a person looks at what
// came before they go on.
async function settled(page) {
  await page
    .waitForFunction(() => !document.querySelector(".htmx-request"))
    .catch(() => {}); // the page has gone over to another
}

// patient makes clicks and keys wait for what they fetch.
function patient(page) {
  const wait = (thing, name, of) => {
    const plain = thing[name];
    if (plain.patient) return;
    thing[name] = async function (...args) {
      const out = await plain.apply(this, args);
      await settled(of(this));
      return out;
    };
    thing[name].patient = true;
  };
  const locator = Object.getPrototypeOf(page.locator("body"));
  for (const name of ["click", "press"]) wait(locator, name, (l) => l.page());
  wait(page.keyboard, "press", () => page);
}

export const test = base.extend({
  page: async ({ page }, use) => {
    patient(page);
    await use(page);
  },
  baseURL: async ({}, use, info) =>
    use(await serverOf(info.file, info.parallelIndex)),
  complaints: [
    async ({ page }, use) => {
      const list = [];
      page.on("console", (m) => {
        if (m.type() === "error" || m.type() === "warning") list.push(m.text());
      });
      page.on("pageerror", (e) => list.push(e.message));
      await use(list);
      expect(list).toEqual([]);
    },
    { auto: true },
  ],
  as: async ({ page }, use) => use((role) => signIn(page, role)),
});

const axe = readFileSync(
  createRequire(import.meta.url).resolve("axe-core/axe.min.js"),
  "utf8",
);
const levels = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];

// accessible fails on what axe finds against WCAG 2.2, level AA; or against
// some of its rules; outside of some parts. Of long tables it looks at the first
// rows, which are made as all the others.
export async function accessible(page, rules, outside = []) {
  const look = async () => {
    await page.evaluate(axe);
    return page.evaluate(
      async ([exclude, runOnly]) => {
        const options = { runOnly, resultTypes: ["violations"] };
        const { violations } = await window.axe.run({ exclude }, options);
        return violations.map((v) => `${v.id}: ${v.nodes[0].html}`);
      },
      [["tbody tr:nth-child(n+7)", ...outside], rules ?? levels],
    );
  };
  // A page that is just being replaced by the next is looked at once it stands.
  const again = async (err) => {
    if (!/context was destroyed|reading 'run'/.test(err.message)) throw err;
    await page.waitForLoadState("load");
    return look();
  };
  const found = await look().catch(again).catch(again);
  expect(found, page.url()).toEqual([]);
}

// fits fails where the page is wider than the window.
export async function fits(page) {
  const wide = await page.evaluate(
    () =>
      document.documentElement.scrollWidth -
      document.documentElement.clientWidth,
  );
  expect(wide, page.url()).toBe(0);
}

// rows are the rows of the board's table, and projects those without groups.
export const rows = (page) => page.locator("table.board tbody tr");
export const projects = (page) =>
  page.locator("table.board tbody tr:not(.group)");

// project is the row of a project on the board.
export const project = (page, code) =>
  page.locator("table.board tbody tr", {
    has: page.locator(".code", { hasText: new RegExp(`^${code}$`) }),
  });

// paste gathers rows as someone pastes them, up to their draft.
export const paste = async (page, rows) => {
  await page.goto("/gather");
  await page.locator(".drop summary").click();
  await page.locator(".drop textarea").fill(rows);
  await page.locator(".drop button").click();
  await page.waitForURL(/draft/);
};
