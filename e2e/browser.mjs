// How the tests and pictures start the browser: Debian's Chromium, without a
// sandbox as root has none, and quiet on the network.
export const launch = {
  executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
  args: [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    // One process draws, and one holds the pages: they are all of one site.
    "--in-process-gpu",
    "--renderer-process-limit=1",
    "--disable-site-isolation-trials",
  ],
};
export const viewport = { width: 1280, height: 800 };

// The demonstration's accounts, as the program prints them.
export const people = {
  analyst: ["ines", "tide tables 26"],
  lead: ["ada", "slack water 26"],
  executive: ["tor", "leading lights 26"],
  administrator: ["una", "harbour master 26"],
};

// signIn goes through the door as a person does.
export async function signIn(page, role, base = "") {
  const [login, password] = people[role];
  await page.goto(base + "/sign-in");
  await page.getByLabel("Sign-in name").fill(login);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.waitForURL(/\/(board|desk|page)/);
}
