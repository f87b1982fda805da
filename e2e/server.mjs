// The server that a file of browser tests works with: each has the
// demonstration to itself, from one database that is made once.
import { spawn } from "node:child_process";
import { copyFileSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";

const turret = fileURLToPath(new URL("../bin/turret", import.meta.url));

// seed is where the demonstration lies that the others are copies of.
export const seed = process.env.TURRET_SEED;

// serve starts a server on a database with the demonstration, which is made
// where absent, and waits until it answers.
export async function serve(db, port) {
  const server = spawn(
    turret,
    ["demo", "--db", db, "--addr", `127.0.0.1:${port}`],
    { stdio: "ignore" },
  );
  const url = `http://127.0.0.1:${port}`;
  for (let tries = 0; tries < 1800; tries++) {
    const answer = await fetch(url + "/healthz").catch(() => null);
    if (answer?.ok) return { url, stop: () => stop(server) };
    if (server.exitCode !== null) break;
    await new Promise((go) => setTimeout(go, 100));
  }
  server.kill();
  throw new Error(`no server answers on ${url}`);
}

async function stop(server) {
  const gone = new Promise((go) => server.once("exit", go));
  server.kill("SIGTERM");
  await gone;
}

// prepare makes the demonstration once, for all files of tests.
export default async function prepare() {
  const dir = mkdtempSync(join(tmpdir(), "turret-e2e-"));
  process.env.TURRET_SEED = join(dir, "demo.db");
  const { stop } = await serve(process.env.TURRET_SEED, 8497);
  await stop();
  return () => rmSync(dir, { recursive: true, force: true });
}

let running; // the server of the file whose tests this process runs
let started = 0;

// serverOf gives the address of the server of a file of tests.
export async function serverOf(file, parallelIndex) {
  if (running?.file !== file) {
    await running?.stop();
    const db = join(
      seed,
      "..",
      `${parallelIndex}-${process.pid}-${started}.db`,
    );
    copyFileSync(seed, db);
    const port = 8510 + 40 * parallelIndex + (started++ % 40);
    running = { file, ...(await serve(db, port)) };
    process.once("exit", running.stop);
  }
  return running.url;
}
