// The table of amounts: totals follow what is typed, blocks are filled to the right, what is
// pasted is read in the form that its numbers have, and what is chosen is what the form beside
// changes.
import { convert, formOf, parse, read, write } from "./model.js";

const gridOf = (e) => e.target.closest?.(".grid.money");

// rowOf reads a row of amounts once.
function rowOf(tr) {
  const exponent = Number(tr.dataset.exponent);
  const cells = [...tr.cells].slice(1, -1).map((td) => {
    const cell = td.querySelector(".cell");
    const fixed = td.querySelector("[data-fixed]");
    return {
      cell,
      n: parse(cell?.value ?? fixed?.dataset.fixed ?? "", exponent) ?? 0n,
    };
  });
  const rates = tr.dataset.rates?.split(" ").map((x) => {
    const [num, den] = x.split("/");
    return [BigInt(num), BigInt(den ?? 1)];
  });
  return { tr, exponent, cells, rates, output: tr.querySelector("output") };
}

// groupOf reads a head, and within tells which of them the row after them is below.
const groupOf = (tr) => ({
  level: Number(tr.dataset.group),
  feet: [...tr.querySelectorAll("output")],
  rows: [],
});
const within = (groups) => {
  const last = groups.at(-1);
  if (!last) return [];
  const above = last.level && groups.findLast((g) => g.level < last.level);
  return above ? [above, last] : [last];
};

// amounts of a grid, each row once: what its cells hold, by column.
let known; // of the grid that is on the page: rows with their sums
function learn(grid) {
  const periods = [...grid.querySelectorAll("thead [data-period]")].map(
    (th) => th.dataset.period,
  );
  const groups = []; // those of heads, with the rows below each
  const rows = [];
  for (const tr of grid.querySelectorAll("tbody tr")) {
    if (tr.dataset.group) groups.push(groupOf(tr));
    else {
      rows.push(rowOf(tr));
      rows.at(-1).groups = within(groups);
    }
  }
  const at = new Map();
  for (const row of rows) for (const g of row.groups) g.rows.push(row);
  rows.forEach((row, r) =>
    row.cells.forEach((x, c) => x.cell && at.set(x.cell, [r, c])),
  );
  const feet = [...grid.querySelectorAll("tfoot output")];
  const size = grid.querySelectorAll("td").length;
  const exponent = Number(grid.dataset.exponent);
  const sums = new Map(); // by flow
  known = { grid, periods, rows, at, feet, size, exponent, sums };
}

// own gives what a cell comes to in the project's currency, in which the sums below and beside
// the table are.
const own = (row, c) =>
  row.rates ? convert(row.cells[c].n, row.rates[c]) : row.cells[c].n;
const of = (flow) => known.rows.filter((row) => row.tr.dataset.flow === flow);
// Of a forecast, what came before is shown and not added to what is still to come.
const adds = (x) => x.cell || known.grid.dataset.kind !== "forecast";
const rowSum = (row) =>
  row.cells.reduce((sum, x) => (adds(x) ? sum + x.n : sum), 0n);

// show writes a sum where it is another: what is written anew is laid out anew.
function show(out, n, exponent) {
  const text = write(n, exponent);
  if (out.textContent !== text) out.textContent = text;
}

const sumRow = (row) => {
  show(row.output, rowSum(row), row.exponent);
  for (const g of row.groups) touched.groups.add(g);
};
const total = (list) => list.reduce((a, b) => a + b, 0n);

// Sums of rows by column, in the project's currency: all that the cells hold, and what of it
// counts. Only columns that are touched are added up again.
class Sums {
  all = [];
  counted = [];
  constructor(rows) {
    this.rows = rows;
    this.add(known.periods.keys());
  }
  add(columns) {
    for (const c of columns) {
      let all = 0n;
      let counted = 0n;
      for (const row of this.rows) {
        const n = own(row, c);
        all += n;
        if (adds(row.cells[c])) counted += n;
      }
      this.all[c] = all;
      this.counted[c] = counted;
    }
  }
  show(feet, columns) {
    for (const c of columns) show(feet[c], this.all[c], known.exponent);
    show(feet.at(-1), total(this.counted), known.exponent);
  }
}

// sumsOf are those of a flow, made when they are first asked for.
function sumsOf(flow) {
  if (!known.sums.has(flow)) known.sums.set(flow, new Sums(of(flow)));
  return known.sums.get(flow);
}

function sumColumns(columns) {
  for (const sums of known.sums.values()) sums.add(columns);
  sumsOf("cost").show(known.feet, columns);
  sumFacts();
}

// sumFacts adds to each figure beside the table what its cells add to it.
function sumFacts() {
  for (const out of document.querySelectorAll("#effect output[data-base]")) {
    const { base, from, to, flow } = out.dataset;
    const [first, last] = [from, to].map((p) => known.periods.indexOf(p));
    const sum = total(sumsOf(flow).counted.slice(first, last + 1));
    show(out, BigInt(base) + sum, known.exponent);
  }
}

// touched is what is to be added up again.
const touched = { rows: new Set(), columns: new Set(), groups: new Set() };
function sumGroups(columns) {
  for (const g of touched.groups) {
    if (g.sums) g.sums.add(columns);
    else g.sums = new Sums(g.rows);
    g.sums.show(g.feet, columns);
  }
  touched.groups.clear();
}
let painting;
function paint() {
  painting = undefined;
  if (known?.grid.isConnected) {
    touched.rows.forEach(sumRow);
    sumGroups(touched.columns);
    sumColumns(touched.columns);
  }
  touched.rows.clear();
  touched.columns.clear();
}

// mark shows below a cell what the version beside says, where that is another.
function mark(cell) {
  const [r, c] = known.at.get(cell) ?? [];
  const { beside } = cell.dataset;
  if (r === undefined || beside === undefined) return;
  const { cells, exponent } = known.rows[r];
  const was = parse(beside, exponent);
  let span = cell.parentElement.querySelector(".beside");
  if (was === cells[c].n) span?.remove();
  else if (!span) {
    span = document.createElement("span");
    span.className = "was beside";
    span.textContent = write(was, exponent);
    cell.after(span);
  }
}

// Cells that were typed in are marked once they are painted, and those that are too far to be
// drawn once they are scrolled to.
const unmarked = new Set();
let marking;
function markSeen() {
  marking = undefined;
  for (const cell of unmarked) {
    if (cell.parentElement?.classList.contains("far")) continue;
    unmarked.delete(cell);
    if (known) mark(cell);
  }
}
const markSoon = () => {
  if (unmarked.size) marking ??= setTimeout(markSeen, 100);
};
document.addEventListener("scroll", markSoon, true);

document.addEventListener("input", (e) => {
  if (!gridOf(e)) return;
  if (known?.grid !== gridOf(e)) begin();
  const place = known.at.get(e.target);
  if (!place) return;
  const row = known.rows[place[0]];
  const x = row.cells[place[1]];
  const was = x.n;
  x.n = parse(e.target.value, row.exponent) ?? 0n;
  if (x.n === was) return;
  unmarked.add(e.target);
  markSoon();
  touched.rows.add(row);
  touched.columns.add(place[1]);
  painting ??= requestAnimationFrame(paint);
});

// followed adds up what the server made of cells that were typed, such as what a formula comes
// to; and what stands beside the table, which is another then.
function followed() {
  const { elements } = known.grid.closest("form");
  for (const { value, dataset } of document.querySelectorAll(
    "#effect data[data-field]",
  )) {
    const place = known.at.get(elements[dataset.field]);
    if (!place) continue;
    const row = known.rows[place[0]];
    row.cells[place[1]].n = parse(value, row.exponent) ?? 0n;
    sumRow(row);
    touched.columns.add(place[1]);
  }
  sumGroups(touched.columns);
  sumColumns(touched.columns);
  touched.columns.clear();
}

function begin() {
  const grid = document.querySelector(".grid.money");
  if (!grid) {
    known = undefined;
    return;
  }
  if (
    known?.grid === grid &&
    known.size === grid.querySelectorAll("td").length
  ) {
    followed();
    return;
  }
  learn(grid);
  known.rows.forEach(sumRow);
  const all = [...known.periods.keys()];
  sumGroups(all);
  sumColumns(all);
  offer();
}
begin();
document.addEventListener("htmx:afterSettle", begin);

// offer shows of the form beside what the change that is chosen asks for.
function offer() {
  const what = document.querySelector('.block [name="what"]')?.value;
  for (const x of document.querySelectorAll(".block [data-for]"))
    x.hidden = !x.dataset.for.split(" ").includes(what);
}
document.addEventListener("change", (e) => {
  if (e.target.matches?.('.block [name="what"]')) offer();
});

// chosen are the cells of the block, or the one that is typed in.
const chosen = () => {
  const list = [...document.querySelectorAll(".grid.money .cell.chosen")];
  return list.length ? list : [];
};

// What is chosen is what the form changes: it is told when the form is gone into.
let last = [];
document.addEventListener("focusin", (e) => {
  if (gridOf(e)) last = [e.target];
});
document.addEventListener("keyup", (e) => {
  if (gridOf(e) && chosen().length) last = chosen();
});
document.addEventListener("mouseup", () => {
  if (chosen().length) last = chosen();
});
document.addEventListener("focusin", (e) => {
  const form = e.target.closest?.(".block");
  if (!form || last.length < 2 || !known) return;
  const places = last.map((x) => known.at.get(x)).filter(Boolean);
  if (!places.length) return;
  const columns = places.map(([, c]) => c);
  const keys = new Set(places.map(([r]) => known.rows[r].tr.dataset.line));
  form.elements.from.value = known.periods[Math.min(...columns)];
  form.elements.to.value = known.periods[Math.max(...columns)];
  for (const o of form.elements.line.options) o.selected = keys.has(o.value);
  form.querySelector("[data-chosen]").textContent =
    `${places.length} cells on ${keys.size === 1 ? "one line" : keys.size + " lines"} are chosen.`;
  last = [];
});

// type writes texts into cells, pairs of both, as one step that is taken back at once.
const type = (pairs) =>
  document.dispatchEvent(new CustomEvent("grid:write", { detail: pairs }));

// A cell that is clicked is typed over; a double click goes into it, as F2 does.
document.addEventListener("click", (e) => {
  if (gridOf(e) && e.target.matches(".cell") && e.detail === 1)
    e.target.select();
});

// Ctrl+R fills a block to the right from its first column; F2 goes into a cell, and Escape
// gives back what it held.
document.addEventListener("keydown", (e) => {
  if (!gridOf(e) || !e.target.matches(".cell")) return;
  const cell = e.target;
  if (e.key === "F2") {
    e.preventDefault();
    cell.setSelectionRange(cell.value.length, cell.value.length);
  } else if (e.key === "Escape" && cell.value !== cell.dataset.before) {
    e.stopPropagation();
    cell.value = cell.dataset.before ?? cell.defaultValue;
    cell.dispatchEvent(new Event("input", { bubbles: true }));
  } else if (e.ctrlKey && e.key.toLowerCase() === "r") {
    e.preventDefault();
    fillRight(chosen().length ? chosen() : [cell]);
  } else if (e.ctrlKey && e.key.toLowerCase() === "m") {
    e.preventDefault();
    const to = new URL(location);
    to.searchParams.set("row", cell.name.slice(2));
    location.assign(to);
  }
});

// fillRight repeats the first of each row's cells; of one cell, the one before it.
function fillRight(cells) {
  const rows = new Map();
  for (const cell of cells) {
    const place = known.at.get(cell);
    if (place) rows.set(place[0], [...(rows.get(place[0]) ?? []), place[1]]);
  }
  const pairs = [];
  for (const [r, columns] of rows) {
    const from = columns.length > 1 ? Math.min(...columns) : columns[0] - 1;
    const text = known.rows[r].cells[from]?.cell?.value;
    if (text === undefined) continue;
    for (const c of columns)
      if (c !== from) pairs.push([known.rows[r].cells[c].cell, text]);
  }
  type(pairs);
}

// The corner of the cell that is gone to is a handle: what is chosen is filled on to where it
// is let go, to the right from its last column, down from its last row.
const corner = 10; // pixels
let filling; // the places that the handle is drawn from
document.addEventListener("pointerdown", (e) => {
  const td = e.target.closest?.(".grid.money td:focus-within");
  if (!td) return;
  const box = td.getBoundingClientRect();
  if (box.right - e.clientX > corner || box.bottom - e.clientY > corner) return;
  e.preventDefault();
  const cells = chosen().length ? chosen() : [document.activeElement];
  filling = cells.map((x) => known.at.get(x)).filter(Boolean);
});
document.addEventListener("pointerup", (e) => {
  if (!filling) return;
  const from = filling;
  filling = undefined;
  const over = document
    .elementFromPoint(e.clientX, e.clientY)
    ?.closest("td")
    ?.querySelector(".cell");
  const to = known.at.get(over);
  if (to) fillTo(from, to);
});

function fillTo(from, [r, c]) {
  const rows = from.map((x) => x[0]);
  const columns = from.map((x) => x[1]);
  const [bottom, right] = [Math.max(...rows), Math.max(...columns)];
  const pairs = [];
  const put = (row, column, from) => {
    const { cell } = known.rows[row].cells[column];
    if (cell && from) pairs.push([cell, from.value]);
  };
  if (c > right)
    for (const row of new Set(rows))
      for (let k = right + 1; k <= c; k++)
        put(row, k, known.rows[row].cells[right].cell);
  else if (r > bottom)
    for (const column of new Set(columns))
      for (let k = bottom + 1; k <= r; k++)
        put(k, column, known.rows[bottom].cells[column].cell);
  type(pairs);
}

// What is pasted is read in the form that its numbers have; where that can be told in two ways
// it is asked, and where some are no amounts they are marked, and the rest waits for a yes.
document.addEventListener(
  "paste",
  (e) => {
    if (!gridOf(e) || !e.target.matches(".cell")) return;
    const text = e.clipboardData.getData("text/plain");
    const lines = text.replace(/\r?\n$/, "").split(/\r?\n/);
    const table = lines.map((line) => line.split("\t"));
    const texts = table.flat().filter((x) => x.trim());
    if (
      texts.every((x) => /^-?\d+(\.\d+)?$/.test(x.trim())) &&
      texts.length < 2
    )
      return; // one plain number is typed
    e.preventDefault();
    e.stopImmediatePropagation();
    let form = formOf(texts);
    if (form === "ask")
      form = confirm(
        `“${texts.find((x) => read(x, "point") !== read(x, "comma"))}” can be read in two ways. Is the comma its decimal sign? OK: the comma. Cancel: the point.`,
      )
        ? "comma"
        : "point";
    const bad = texts.filter((x) => read(x, form) === undefined);
    if (
      bad.length &&
      !confirm(
        `${bad.length} of ${texts.length} cells are no amounts, such as “${bad[0].slice(0, 40)}”. Paste the rest?`,
      )
    )
      return;
    paste(e.target, table, form);
  },
  true,
);

function paste(cell, table, form) {
  const [top, left] = known.at.get(cell);
  let outside = 0;
  const pairs = [];
  table.forEach((line, i) =>
    line.forEach((text, j) => {
      const to = known.rows[top + i]?.cells[left + j]?.cell;
      const value = read(text, form);
      if (value === undefined) to?.classList.add("wrong-cell");
      else if (to) {
        to.classList.remove("wrong-cell");
        pairs.push([to, value]);
      } else if (value) outside++;
    }),
  );
  type(pairs);
  if (!outside) return;
  const toast = document.getElementById("unanswered");
  toast.querySelector("span").textContent =
    `${outside === 1 ? "1 amount was" : outside + " amounts were"} left out: they lie outside the table, or where nothing is typed.`;
  window.bootstrap.Toast.getOrCreateInstance(toast).show();
}

// A head is dragged onto the table: its lines are grouped by it.
const onTable = (e) => e.dataTransfer?.types.includes("text/head") && gridOf(e);
document.addEventListener("dragstart", (e) => {
  const head = e.target.closest?.(".heads [draggable]");
  if (!head) return;
  e.dataTransfer.setData("text/head", head.textContent);
});
document.addEventListener("dragover", (e) => {
  if (onTable(e)) e.preventDefault();
});
document.addEventListener("drop", (e) => {
  if (!onTable(e)) return;
  e.preventDefault();
  const title = e.dataTransfer.getData("text/head");
  [...document.querySelectorAll(".heads a:not([aria-current])")]
    .find((a) => a.textContent === title)
    ?.click();
});
