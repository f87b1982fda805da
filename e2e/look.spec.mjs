// Every screen: readable to everyone, quiet, and no wider than the window; in
// the dark, where only colours differ, every kind of screen.
import { signIn } from "./browser.mjs";
import { accessible, expect, fits, test } from "./pages.mjs";

const screens = [
  "/board",
  "/board?vs=2026-10&trail=FR-01/cpi",
  "/board?group=lead&standing=watch",
  "/board?at=2026-03&in=project&against=original",
  "/project/FR-01",
  "/project/QS-02?vs=2026-08&trail=QS-02/eac_computed",
  "/project/PS-06",
  "/trail/FR-01/ac",
  "/trail/*/eac_computed?vs=2026-06",
  "/find?q=a",
  "/views",
  "/account",
  "/setup/accounts",
  "/setup/mappings",
  "/gather",
  "/gather?show=owing",
  "/gather/run/50",
  "/gather/codes",
  "/gather/refused",
  "/brief",
  "/brief?of=QS-01&leaf=3",
  "/brief?pages=trust",
  "/check",
  "/check?cause=stated-better",
  "/check/FR-01/stated-better?record=stated+standing",
  "/setup/periods",
  "/setup/calendars?of=yard",
  "/setup/rates",
  "/setup/codes?of=210",
  "/setup/centres",
  "/setup/shares",
  "/baselines?of=QS-02",
  "/baselines",
  "/versions",
  "/baseline?of=QS-02&version=2",
  "/setup/rules",
  "/setup/checks",
  "/setup/checks?cause=statement-stale",
  "/standings",
  "/exceptions?trail=FR-01/cpi",
  "/exceptions?cause=over&by=share",
  "/map?box=5,15,0,40",
  "/map?x=cpi&y=finish_stated&shade=late_share&of=FR-01",
  "/drivers?value=Orran+Works&by=supplier",
  "/drivers?by=code&value=210+Main+contract",
  "/forecasts?of=QS-01&ahead=1",
  "/money?vs=2026-10&each=change&row=all",
  "/money/cell?of=FR-01&rows=code&row=100~110&column=6&cause=running",
  "/money/bridge?amounts=outlook&vs=2026-08&of=QS-01&cause=actuals",
  "/close",
  "/cuts",
  "/history",
  "/history?project=FR-01&table=progress",
  "/history/49",
  "/history/41?project=FR-01",
];

// walk looks at screens one after the other.
async function walk(page, paths, rules) {
  for (const path of paths) {
    await page.goto(path);
    await page
      .locator("details:not(.menu) > summary")
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
      test.setTimeout(300_000);
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
