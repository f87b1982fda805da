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
  .flatMap((file) => readFileSync(file, "utf8").trim().split("\n"));

// walk looks at screens one after the other.
async function walk(page, paths, rules) {
  for (const path of paths) {
    await page.goto(path);
    await page
      .locator("details > summary")
      .evaluateAll((l) => l.slice(0, 3).forEach((s) => s.click()));
    await accessible(page, rules);
    await fits(page);
    expect(await page.locator("[style]").count(), path).toBe(0);
  }
}

// The screens are parted among tests of their own, as nothing is changed on
// them; in the dark every second one is looked at.
test.describe.configure({ mode: "parallel" });
const parts = { light: [0, 1, 2], dark: [3] };
for (const [colorScheme, list] of Object.entries(parts))
  for (const part of list)
    test(`every screen in ${colorScheme}, part ${part + 1}`, async ({
      page,
    }) => {
      await page.emulateMedia({ colorScheme });
      await page.goto("/sign-in");
      const rules = colorScheme === "dark" ? ["color-contrast"] : undefined;
      if (part === list[0]) await accessible(page, rules);
      await signIn(page, "administrator");
      await walk(
        page,
        screens.filter((_, i) => (rules ? i % 2 : i % 3 === part)),
        rules,
      );
    });
