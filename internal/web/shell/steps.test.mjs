// Steps back and on, in any order, leave the table as a plain list of all tables there were.
import assert from "node:assert/strict";
import { test } from "node:test";
import { readFileSync } from "node:fs";

const source = readFileSync(new URL("steps.js", import.meta.url), "utf8");
const { Steps } = await import(
  "data:text/javascript," + encodeURIComponent(source)
);

// seeded gives numbers between 0 and 1, always the same ones.
function seeded(seed) {
  let s = seed;
  return () => {
    s = (s * 1664525 + 1013904223) % 4294967296;
    return s / 4294967296;
  };
}

test("after any steps, back and on, the table is that of a plain one", () => {
  const random = seeded(22);
  const int = (n) => Math.floor(random() * n);
  for (let round = 0; round < 100; round++) {
    const table = Array.from({ length: 12 }, () => String(int(100)));
    const steps = new Steps((cell, value) => (table[cell] = value));
    let history = [[...table]]; // all tables there were
    let at = 0;
    for (let n = 0; n < 80; n++) {
      switch (int(4)) {
        case 0:
          assert.equal(steps.back() !== undefined, at > 0);
          at = Math.max(0, at - 1);
          break;
        case 1:
          assert.equal(steps.again() !== undefined, at < history.length - 1);
          at = Math.min(history.length - 1, at + 1);
          break;
        default: {
          const step = Array.from({ length: int(5) }, () => {
            const cell = int(12); // the same one may be there twice
            const x = [cell, table[cell], String(int(100))];
            table[cell] = x[2];
            return x;
          });
          steps.take(step);
          if (!step.length) break;
          history = [...history.slice(0, at + 1), [...table]];
          at++;
        }
      }
      assert.deepEqual(table, history[at]);
    }
  }
});

test("what is no longer on the page ends the steps", () => {
  const there = new Set(["a"]);
  const steps = new Steps(
    () => {},
    (cell) => there.has(cell),
  );
  steps.take([["a", "1", "2"]]);
  steps.take([["b", "1", "2"]]);
  assert.equal(steps.back(), undefined);
  assert.equal(steps.back(), undefined, "and those before it");
});
