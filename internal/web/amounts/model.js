// Amounts as a table that is typed in, without the page: how numbers are read, what the cells
// add up to, and steps that are taken back and done again. All amounts are whole minor units.

// parse reads an amount as minor units with so many decimals: a plain decimal, with blanks or
// apostrophes between thousands. Nothing is 0n; what is no amount is undefined.
export function parse(text, exponent) {
  const plain = text.replace(/[\s\u00a0\u202f'’]/g, "").replace(/^\u2212/, "-");
  if (!plain) return 0n;
  const m = /^(-?)(\d*)(?:\.(\d*))?$/.exec(plain);
  if (!m || !(m[2] || m[3])) return undefined;
  const decimals = (m[3] ?? "").replace(/0+$/, "");
  if (decimals.length > exponent) return undefined;
  const n = BigInt((m[2] || "0") + decimals.padEnd(exponent, "0"));
  if (n >= 1n << 63n) return undefined;
  return m[1] ? -n : n;
}

// convert gives minor units of one currency in those of another at a rate, a pair of whole
// numbers: rounded half to even, as each cell is by itself.
export function convert(n, [num, den]) {
  const product = (n < 0n ? -n : n) * num;
  let q = product / den;
  const twice = (product % den) * 2n;
  if (twice > den || (twice === den && q % 2n === 1n)) q++;
  return n < 0n ? -q : q;
}

// write gives minor units as people read them: in groups, without decimals that say nothing.
export function write(n, exponent) {
  const digits = (n < 0n ? -n : n).toString().padStart(exponent + 1, "0");
  const whole = digits.slice(0, digits.length - exponent);
  const rest = digits.slice(digits.length - exponent);
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, ",");
  return (n < 0n ? "−" : "") + grouped + (/[1-9]/.test(rest) ? "." + rest : "");
}

// plain gives minor units in canonical form.
export function plain(n, exponent) {
  return write(n, exponent).replaceAll(",", "").replace("−", "-");
}

// signed takes the sign of an amount off, however it is written: before it, behind it, or as
// brackets; and currencies and units that stand beside the digits.
function signed(text) {
  let s = text
    .trim()
    .replace(/^[^\d(+\-\u2212.,]+|[^\d)\-\u2212.,]+$/g, "")
    .trim();
  let negative = false;
  const bare = /^\((.*)\)$/.exec(s) ?? /^(.*)[-\u2212]$/.exec(s);
  if (bare) {
    negative = true;
    s = bare[1];
  } else if (/^[-\u2212]/.test(s)) {
    negative = true;
    s = s.slice(1);
  }
  s = s
    .trim()
    .replace(/^\+/, "")
    .replace(/^[^\d.,]+|[^\d.,]+$/g, "");
  return [negative, s.replace(/[\s\u00a0\u202f'’]/g, "")];
}

// read reads one number of a form, "point" or "comma" telling the decimals; canonical, or
// undefined where it is none in that form.
export function read(text, form) {
  const [negative, s] = signed(text);
  if (!s) return /^[-\u2013\u2014]?$/.test(text.trim()) ? "" : undefined;
  const [group, point] = form === "comma" ? [".", ","] : [",", "."];
  const parts = s.split(point);
  if (parts.length > 2) return undefined;
  const groups = parts[0].split(group);
  const wellGrouped =
    groups.length === 1 ||
    (groups[0].length > 0 &&
      groups[0].length < 4 &&
      groups.slice(1).every((g) => g.length === 3));
  if (!wellGrouped || !/^\d*$/.test(groups.join(""))) return undefined;
  if (parts[1] !== undefined && !/^\d*$/.test(parts[1])) return undefined;
  const whole = groups.join("");
  if (!whole && !parts[1]) return undefined;
  return (
    (negative ? "-" : "") + (whole || "0") + (parts[1] ? "." + parts[1] : "")
  );
}

// formOf finds the one form in which the most of what was pasted can be read: "point", "comma",
// or "ask" where two do and give other amounts.
export function formOf(texts) {
  const counts = { point: 0, comma: 0 };
  let differ = false;
  for (const text of texts) {
    const a = read(text, "point");
    const b = read(text, "comma");
    if (a !== undefined) counts.point++;
    if (b !== undefined) counts.comma++;
    if (a !== undefined && b !== undefined && a !== b) differ = true;
  }
  if (counts.point === counts.comma) return differ ? "ask" : "point";
  return counts.point > counts.comma ? "point" : "comma";
}

// sums adds up rows of amounts: each row, each column, and all; what cannot be read counts as
// nothing.
export function sums(rows, exponent) {
  const byRow = [];
  const byColumn = [];
  let all = 0n;
  for (const row of rows) {
    let sum = 0n;
    row.forEach((text, c) => {
      const n = parse(text, exponent) ?? 0n;
      sum += n;
      byColumn[c] = (byColumn[c] ?? 0n) + n;
    });
    byRow.push(sum);
    all += sum;
  }
  return { byRow, byColumn, all };
}
