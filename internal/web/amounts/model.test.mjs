// The table's model by itself: numbers as people write them, and sums against a plain
// recomputation.
import assert from "node:assert/strict";
import { readFileSync } from "node:fs";
import { test } from "node:test";

const source = readFileSync(new URL("model.js", import.meta.url), "utf8");
const { convert, formOf, parse, plain, read, sums, write } = await import(
  "data:text/javascript," + encodeURIComponent(source)
);

test("amounts are converted half to even", () => {
  for (const [n, rate, want] of [
    [100n, [1n, 10n], 10n],
    [105n, [1n, 10n], 10n], // 10.5 goes to the even 10
    [115n, [1n, 10n], 12n], // and 11.5 to the even 12
    [116n, [1n, 10n], 12n],
    [-105n, [1n, 10n], -10n],
    [-115n, [1n, 10n], -12n],
    [7n, [3n, 1n], 21n],
    [5n, [0n, 1n], 0n],
    [0n, [5n, 3n], 0n],
  ])
    assert.equal(convert(n, rate), want, `${n} at ${rate}`);
});

test("amounts are read to the minor unit, and no further", () => {
  for (const [text, exponent, want] of [
    ["", 2, 0n],
    ["12", 2, 1200n],
    ["12.5", 2, 1250n],
    ["-0.05", 2, -5n],
    ["−3", 2, -300n],
    [".5", 2, 50n],
    ["1 234.50", 2, 123450n],
    ["1’234", 0, 1234n],
    ["1.500", 2, 150n],
    ["1.505", 2, undefined],
    ["1.5", 0, undefined],
    ["1,5", 2, undefined],
    ["x", 2, undefined],
    ["-", 2, undefined],
    ["92233720368547758.07", 2, (1n << 63n) - 1n],
    ["92233720368547758.08", 2, undefined],
  ])
    assert.equal(parse(text, exponent), want, text);
});

test("what is written is read back", () => {
  assert.equal(write(-123456789n, 2), "−1,234,567.89");
  assert.equal(write(500n, 2), "5");
  assert.equal(write(5n, 2), "0.05");
  assert.equal(write(5n, 0), "5");
  assert.equal(write(0n, 2), "0");
  const random = seeded(7);
  for (let i = 0; i < 3000; i++) {
    const n = BigInt(Math.floor(random() * 2e12) - 1e12);
    const exponent = Math.floor(random() * 4);
    assert.equal(parse(plain(n, exponent), exponent), n);
  }
});

test("numbers are read in the form that all of them have", () => {
  for (const [text, form, want] of [
    ["1.234,50", "comma", "1234.50"],
    ["1,234.50", "point", "1234.50"],
    ["1.234,50", "point", undefined],
    ["(12,5)", "comma", "-12.5"],
    ["12,5-", "comma", "-12.5"],
    ["€ 1 234,5", "comma", "1234.5"],
    ["1.234", "comma", "1234"],
    ["1.234", "point", "1.234"],
    ["1.23.4", "comma", undefined],
    ["–", "point", ""],
    ["", "point", ""],
    ["n/a", "point", undefined],
    ["5 kEUR", "point", "5"],
  ])
    assert.equal(read(text, form), want, `${text} as ${form}`);
  assert.equal(formOf(["1.234,50", "7"]), "comma");
  assert.equal(formOf(["1,234.50", "7"]), "point");
  assert.equal(formOf(["12", "7"]), "point");
  assert.equal(
    formOf(["1.234", "5.678"]),
    "ask",
    "thousands, or three decimals",
  );
  assert.equal(formOf(["1.234", "5.6"]), "point");
  assert.equal(formOf(["1.234", "5,6"]), "comma");
  assert.equal(formOf(["n/a", "1,5"]), "comma");
});

// seeded gives numbers between 0 and 1, always the same ones.
function seeded(seed) {
  let s = seed;
  return () => {
    s = (s * 1664525 + 1013904223) % 4294967296;
    return s / 4294967296;
  };
}

test("sums agree with each other, and with a plain one", () => {
  const random = seeded(22);
  for (let round = 0; round < 200; round++) {
    const rows = Array.from({ length: 1 + Math.floor(random() * 6) }, () =>
      Array.from({ length: 5 }, () =>
        random() < 0.3 ? "" : String(Math.floor(random() * 1e6) / 100),
      ),
    );
    const { byRow, byColumn, all } = sums(rows, 2);
    const cents = (text) => BigInt(Math.round(Number(text || "0") * 100));
    const add = (list) => list.reduce((a, b) => a + b, 0n);
    assert.equal(all, add(rows.flat().map(cents)));
    assert.equal(add(byRow), all);
    assert.equal(add(byColumn), all);
  }
});
