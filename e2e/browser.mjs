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
  ],
};
export const viewport = { width: 1280, height: 800 };
