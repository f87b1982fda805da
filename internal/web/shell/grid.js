import { Steps } from "./steps.js";

// A grid of cells: arrows move, Shift and an arrow or a click chooses a block, which is
// copied, cut, emptied, filled from its first row (Ctrl+D) or pasted over; a block from a
// spreadsheet fills from the cell on. Ctrl+Z takes back what was typed or pasted, cell by
// cell or a block at once, and Ctrl+Y does it again.
const isCell = (e) => e.target.classList?.contains("cell");

// rowsOf are the cells of a grid by their place in the table: a place without one is empty.
const rowsOf = (cell) =>
  [...cell.closest(".grid").querySelectorAll("tbody tr")].map((row) =>
    [...row.cells].map((td) => td.querySelector(".cell")),
  );

// blockOf is the block that is chosen, or the one cell: its rows of cells.
function blockOf(cell) {
  const rows = rowsOf(cell);
  const place = (x) => {
    const r = rows.findIndex((row) => row.includes(x));
    return [r, rows[r]?.indexOf(x)];
  };
  const [r1, c1] = place(cell);
  const [r2, c2] = origin?.isConnected ? place(origin) : [r1, c1];
  const [top, bottom] = r2 < 0 ? [r1, r1] : [r1, r2].sort((a, b) => a - b);
  const [left, right] = r2 < 0 ? [c1, c1] : [c1, c2].sort((a, b) => a - b);
  const block = rows
    .slice(top, bottom + 1)
    .map((row) => row.slice(left, right + 1));
  return { rows, r: r1, c: c1, top, left, block };
}

let origin; // where the choosing of a block began

function choose(cell) {
  clear();
  const { block } = blockOf(cell);
  for (const other of block.flat()) other?.classList.add("chosen");
}

function clear() {
  for (const cell of document.querySelectorAll(".cell.chosen"))
    cell.classList.remove("chosen");
}

// Shift and a place chooses on; without it choosing begins anew.
function go(cell, shift) {
  if (!cell) return;
  const begun = origin;
  near(cell);
  cell.focus();
  cell.select?.();
  if (!shift) return;
  origin = begun;
  choose(cell);
}

// next is the cell that lies so many rows and columns on.
function next({ rows, r, c }, [down, right]) {
  do {
    r += down;
    c += right;
  } while (rows[r] && c >= 0 && c < rows[r].length && !rows[r][c]);
  return rows[r]?.[c];
}

const shown = (cell) =>
  cell.defaultValue ?? cell.querySelector("[selected]")?.value ?? "";
const show = (cell) =>
  cell.classList.toggle("changed", cell.value !== shown(cell));

const steps = new Steps(
  (cell, value) => {
    set(cell, value);
    tell(cell);
  },
  (cell) => cell.isConnected,
);

// Who keeps what is typed hears of what was pasted too.
const tell = (cell) =>
  cell.dispatchEvent(new Event("input", { bubbles: true }));

function set(cell, value) {
  cell.value = cell.dataset.before = value;
  show(cell);
}

// fits is the value as a cell takes it; undefined where it does not: it cannot be typed
// in, or the value is none of its choices.
function fits(cell, value) {
  if (!cell || cell.readOnly || cell.disabled) return undefined;
  if (!cell.options) return value;
  const same = (o) => o.value.toLowerCase() === value.trim().toLowerCase();
  return [...cell.options].find(same)?.value;
}

// write puts values into cells, as one step, and counts those that found no place.
function write(pairs) {
  const written = [];
  let outside = 0;
  for (const [cell, text] of pairs) {
    const value = fits(cell, text);
    if (value === undefined) outside += text.trim() ? 1 : 0;
    else written.push([cell, cell.value, value]);
  }
  for (const [cell, , value] of written) set(cell, value);
  steps.take(written);
  for (const [cell] of written) tell(cell);
  if (outside)
    say(
      `${outside === 1 ? "1 value was" : outside + " values were"} left out: they lie outside the table, or where nothing of the kind is typed. Ctrl+Z takes the rest back.`,
    );
}

// Other modules write several cells as one step by this event: its detail is pairs of a cell
// and its text.
document.addEventListener("grid:write", (e) => write(e.detail));

function say(text) {
  const toast = document.getElementById("unanswered");
  toast.querySelector("span").textContent = text;
  window.bootstrap.Toast.getOrCreateInstance(toast).show();
}

document.addEventListener("input", (e) => {
  if (isCell(e)) show(e.target);
});
document.addEventListener("focusin", (e) => {
  if (!isCell(e)) return;
  e.target.dataset.before = e.target.value;
  clear();
  origin = e.target;
});
document.addEventListener("focusout", (e) => {
  if (isCell(e)) clear();
});
document.addEventListener("change", (e) => {
  const { before } = e.target.dataset;
  if (!isCell(e) || before === undefined || before === e.target.value) return;
  steps.take([[e.target, before, e.target.value]]);
  e.target.dataset.before = e.target.value;
});
document.addEventListener("mousedown", (e) => {
  const at = document.activeElement;
  if (!isCell(e) || !e.shiftKey || at === e.target || !isCell({ target: at }))
    return;
  if (at.closest(".grid") !== e.target.closest(".grid")) return;
  e.preventDefault();
  go(e.target, true);
});

// leads says where an arrow goes: in a cell of several lines or of choices they are its
// own, and within a text those sideways are, until all of it is marked.
function leads(e) {
  const { selectionStart, selectionEnd, value, tagName } = e.target;
  if (tagName === "SELECT") return { Enter: [1, 0] }[e.key];
  if (tagName !== "INPUT") return undefined;
  const whole = selectionStart === 0 && selectionEnd === value.length;
  const at = (place) =>
    (selectionStart === place && selectionEnd === place) ||
    (e.shiftKey && whole);
  return {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    Enter: [1, 0],
    ArrowLeft: at(0) && [0, -1],
    ArrowRight: at(value.length) && [0, 1],
  }[e.key];
}

document.addEventListener("keydown", (e) => {
  if (!isCell(e) || e.altKey || !e.target.closest(".grid")) return;
  const cell = e.target;
  if (e.ctrlKey || e.metaKey) {
    const key = e.key.toLowerCase();
    const again = key === "y" || (key === "z" && e.shiftKey);
    if (key === "d") {
      e.preventDefault();
      fill(cell);
    } else if (key === "z" || again) {
      if (cell.value !== cell.dataset.before) return; // the cell's own is first
      const first = again ? steps.again() : steps.back();
      if (!first) return;
      near(first);
      first.focus();
      e.preventDefault();
    }
    return;
  }
  if (e.key === "Tab") return besides(cell);
  const chosen =
    cell.classList.contains("chosen") && blockOf(cell).block.flat();
  if (chosen?.length > 1 && (e.key === "Delete" || e.key === "Backspace")) {
    e.preventDefault();
    empty(chosen);
    return;
  }
  const way = leads(e);
  if (!way) return;
  e.preventDefault();
  go(next(blockOf(cell), way), e.shiftKey && e.key !== "Enter");
});

// empty takes out what can be typed over.
function empty(cells) {
  write(cells.filter((x) => fits(x, "") !== undefined).map((x) => [x, ""]));
}

// fill repeats the first row of a block down to its last; of one cell, the one above.
function fill(cell) {
  const { rows, r, c, block } = blockOf(cell);
  const below = block.length > 1 ? block.slice(1) : block;
  const first = block.length > 1 ? block[0] : [rows[r - 1]?.[c]];
  const pairs = below.flatMap((row) =>
    row.map((x, i) => x && first[i] && [x, first[i].value]).filter(Boolean),
  );
  write(pairs);
}

for (const kind of ["copy", "cut"])
  document.addEventListener(kind, (e) => {
    if (!isCell(e) || !e.target.classList.contains("chosen")) return;
    const { block } = blockOf(e.target);
    if (block.flat().length < 2) return;
    e.preventDefault();
    const line = (row) => row.map((x) => x?.value ?? "").join("\t");
    e.clipboardData.setData("text/plain", block.map(line).join("\r\n"));
    if (kind === "cut") empty(block.flat());
  });

// What is pasted fills the block that is chosen, as often as it fits, or from the cell on.
document.addEventListener("paste", (e) => {
  if (!isCell(e) || !e.target.closest(".grid")) return;
  const text = e.clipboardData.getData("text/plain");
  const { rows, top, left, block } = blockOf(e.target);
  const many = block.length * block[0].length > 1;
  if (!many && !/[\t\n]/.test(text.trimEnd())) return;
  e.preventDefault();
  const lines = text
    .replace(/\r?\n$/, "")
    .split(/\r?\n/)
    .map((line) => line.split("\t"));
  const wide = Math.max(...lines.map((line) => line.length));
  const repeats = (has, wants) => (wants % has ? has : Math.max(has, wants));
  const pairs = [];
  for (let i = 0; i < repeats(lines.length, block.length); i++)
    for (let j = 0; j < repeats(wide, block[0].length); j++) {
      const value = lines[i % lines.length][j % wide];
      if (value !== undefined) pairs.push([rows[top + i]?.[left + j], value]);
    }
  write(pairs);
});

// Of a large grid only the cells near what is seen are drawn, so that a key is painted in
// the time of a small one. What a key leads to is drawn before it is there.
const large = 400;
const margin = 120; // pixels beside what is seen

const near = (cell) => cell?.closest("td")?.classList.remove("far");

// besides draws where Tab leads to: the rows beside.
function besides(cell) {
  const { rows, r } = blockOf(cell);
  for (const row of [rows[r - 1], rows[r + 1]])
    for (const other of row ?? []) near(other);
}

function draw(grid) {
  const rects = (list) => [...list].map((x) => x.getBoundingClientRect());
  const seen = grid.getBoundingClientRect();
  const table = grid.querySelector("table");
  const wide = rects(table.tHead.rows[0].cells).map(
    (x) => x.right < seen.left - margin || x.left > seen.right + margin,
  );
  const rows = [...table.tBodies[0].rows];
  const high = rects(rows).map(
    (x) => x.bottom < -margin || x.top > innerHeight + margin,
  );
  const at = document.activeElement?.closest?.("td");
  const turn = (x, name, on) =>
    x.classList.contains(name) === on || x.classList.toggle(name);
  rows.forEach((row, r) => {
    turn(row, "away", high[r]);
    for (const td of row.cells)
      turn(td, "far", td !== at && (high[r] || wide[td.cellIndex] === true));
  });
}

// begin keeps the sizes that a large grid has, and draws of it what is seen.
function begin() {
  for (const table of document.querySelectorAll(".grid:not(.large) > table")) {
    const grid = table.parentElement;
    if (!table.offsetWidth) continue; // it is folded away, and has no sizes yet
    if (grid.querySelectorAll("td > .cell").length <= large) continue;
    const sizes = [...table.tHead.rows[0].cells].map((x) => x.offsetWidth);
    const heights = [...table.rows].map((x) => x.offsetHeight);
    sizes.forEach((width, i) => {
      table.tHead.rows[0].cells[i].style.width = width + "px";
    });
    table.style.width = table.offsetWidth + "px";
    table.style.tableLayout = "fixed";
    heights.forEach((height, i) => {
      table.rows[i].style.height = height + "px";
    });
    grid.classList.add("large");
    draw(grid);
  }
}

let drawing;
function drawAll() {
  drawing ??= requestAnimationFrame(() => {
    drawing = undefined;
    document.querySelectorAll(".grid.large").forEach(draw);
  });
}

begin();
document.addEventListener("htmx:afterSettle", begin);
document.addEventListener("toggle", begin, true);
document.addEventListener("scroll", drawAll, true);
addEventListener("resize", drawAll);
