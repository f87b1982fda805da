// Every screen: readable to everyone, quiet, and no wider than the window; in
// the dark, where only colours differ, every kind of screen.
import { existsSync, readdirSync, readFileSync } from "node:fs";
import { signIn } from "./browser.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";

// Each folder of pages says which of its addresses are looked at.
const web = new URL("../internal/web/", import.meta.url);
const screens = readdirSync(web)
  .map((folder) => new URL(`${folder}/sweep.txt`, web))
  .filter((file) => existsSync(file))
  .flatMap((file) =>
    readFileSync(file, "utf8")
      .trim()
      .split("\n")
      .map((path, k) => ({ path, first: !k })),
  );

// The ways in which a screen is looked at. In the dark only colours differ.
const ways = [
  { width: 1280, colorScheme: "light" },
  { width: 390, colorScheme: "light" },
  { width: 1280, colorScheme: "dark", rules: ["color-contrast"] },
  { width: 390, colorScheme: "dark", rules: ["color-contrast"] },
];
const roles = ["administrator", "analyst", "executive", "lead"];
const theirs = {
  "/setup/accounts": ["administrator"],
  "/setup/access": ["administrator"],
  "/setup/mappings": ["administrator", "analyst"],
  "/setup/letters": ["administrator", "analyst"],
  "/begin": ["administrator", "analyst"],
  "/packs": ["analyst"],
};
const whoseIs = (path) => {
  if (path.startsWith("/state/")) return ["analyst", "lead"];
  if (path.startsWith("/plan/")) return theirs["/begin"];
  if (path.startsWith("/amounts/")) return ["analyst"];
  return theirs[path] ?? roles;
};

// Each screen is seen by light by one role, and the first of each folder in the dark by
// another, on a wide screen or a phone, so that roles, screens and widths take turns; with
// LOOK=all each role sees every screen, and each screen is seen in every way.
const turn = (i, n, whose, first) => {
  if (!whose.includes(roles[n])) return null;
  if (process.env.LOOK === "all") return ways[(i + n) % ways.length];
  const wide = (i >> 2) % 2;
  const at = (k) => whose[k % whose.length] === roles[n];
  if (at(i)) return ways[wide];
  return first && at(i + (whose.length >> 1)) ? ways[2 + wide] : null;
};
test.describe.configure({ mode: "parallel" });
roles.forEach((role, n) =>
  test(`every screen as ${role}`, async ({ page }) => {
    test.setTimeout(240_000);
    await page.goto("/sign-in");
    if (!n) await accessible(page);
    await signIn(page, role);
    const framed = new Set();
    for (const [i, { path, first }] of screens.entries()) {
      const looked = turn(i, n, whoseIs(path), first);
      if (!looked) continue;
      const { width, colorScheme, rules } = looked;
      await page.emulateMedia({ colorScheme });
      await page.setViewportSize({ width, height: 800 });
      await page.goto(path);
      await page
        .locator("details > summary")
        .evaluateAll((l) => l.slice(0, 3).forEach((s) => s.click()));
      // What stands around every page is looked at once for each way.
      const way = width + colorScheme;
      const frame = framed.has(way) ? ["header.bar", "nav.periods"] : [];
      await accessible(page, rules, frame);
      framed.add(way);
      await fits(page);
      expect(await page.locator("[style]").count(), path).toBe(0);
    }
  }),
);

test("on a phone, Gather names its projects and words are not cut off", async ({
  page,
}) => {
  await page.setViewportSize({ width: 390, height: 800 });
  await signIn(page, "analyst");
  await page.goto("/gather");
  const name = page.locator(".matrix-in tbody tr:not(.group) th").first();
  await expect(name).toContainText("FR-01 Hybrid ferry Marrin");
  expect((await name.boundingBox()).width).toBeGreaterThan(200);
  const across = () =>
    page.evaluate(
      () =>
        [...document.querySelectorAll("table.texts, .matrix-in")].filter(
          (t) => !t.closest(".scroll") && t.scrollWidth > innerWidth,
        ).length,
    );
  for (const path of [
    "/gather",
    "/check",
    "/history",
    "/standings",
    "/close",
  ]) {
    await page.goto(path);
    expect(await across(), path).toBe(0);
  }
  // A cell that is folded says which column it is of.
  await page.goto("/check");
  expect(
    await page
      .locator("table.texts tbody td")
      .nth(1)
      .evaluate((c) => getComputedStyle(c, "::before").content),
  ).toMatch(/\w/);
});
