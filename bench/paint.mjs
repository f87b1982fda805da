// How long a screen takes in the browser, from asking for it until it is
// painted: node bench/paint.mjs ADDRESS LOGIN PASSWORD PATH prints milliseconds, the
// median of several.
import { chromium } from "@playwright/test";
import { launch, viewport } from "../e2e/browser.mjs";

const [base, login, password, path] = process.argv.slice(2);
const browser = await chromium.launch(launch);
const page = await browser.newPage({ viewport });
await page.goto(base + "/sign-in");
await page.getByLabel("Sign-in name").fill(login);
await page.getByLabel("Password").fill(password);
await page.getByRole("button", { name: "Sign in" }).click();
await page.waitForURL(/\/board/);
const times = [];
for (let i = 0; i < 7; i++) {
  await page.goto(base + path);
  times.push(
    await page.evaluate(
      () =>
        new Promise((done) =>
          new PerformanceObserver((list) => {
            const paint = list.getEntriesByName("first-contentful-paint")[0];
            if (paint) done(paint.startTime);
          }).observe({ type: "paint", buffered: true }),
        ),
    ),
  );
}
times.sort((a, b) => a - b);
console.log(times[3]);
await browser.close();
