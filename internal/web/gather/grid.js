// A grid of cells: arrows move, a block pasted from a spreadsheet fills from
// the cell on, changed cells show. Ctrl+Z takes back what was typed or pasted, cell by
// cell or a block at once, and Ctrl+Y does it again.
const cells = (grid) =>
  [...grid.querySelectorAll("tbody tr")].map((r) => [
    ...r.querySelectorAll("input.cell"),
  ]);

function place(input) {
  const rows = cells(input.closest(".grid"));
  for (let r = 0; r < rows.length; r++) {
    const c = rows[r].indexOf(input);
    if (c >= 0) return { rows, r, c };
  }
  return null;
}

const shown = (input) =>
  input.defaultValue ?? input.querySelector("[selected]")?.value ?? "";
const show = (input) =>
  input.classList.toggle("changed", input.value !== shown(input));

const isCell = (e) => e.target.classList?.contains("cell");

let done = []; // steps: lists of cells with what they were and became
let undone = [];

function step(cells) {
  done.push(cells);
  undone = [];
}

// Moves one step from a stack to the other; false where there is none on this page.
function move(from, to, which) {
  const cells = from.pop();
  if (!cells?.[0][0].isConnected) {
    from.length = 0;
    return false;
  }
  for (const [input, ...values] of cells) {
    input.value = input.dataset.before = values[which];
    show(input);
  }
  to.push(cells);
  cells[0][0].focus();
  return true;
}

// Who keeps what is typed hears of what was pasted too.
const tell = (input) =>
  input.dispatchEvent(new Event("input", { bubbles: true }));

function say(text) {
  const toast = document.getElementById("unanswered");
  toast.querySelector("span").textContent = text;
  window.bootstrap.Toast.getOrCreateInstance(toast).show();
}

document.addEventListener("input", (e) => {
  if (isCell(e)) show(e.target);
});
document.addEventListener("focusin", (e) => {
  if (isCell(e)) e.target.dataset.before = e.target.value;
});
document.addEventListener("change", (e) => {
  const { before } = e.target.dataset;
  if (!isCell(e) || before === undefined || before === e.target.value) return;
  step([[e.target, before, e.target.value]]);
  e.target.dataset.before = e.target.value;
});

document.addEventListener("keydown", (e) => {
  if (!isCell(e) || e.altKey) return;
  if (e.ctrlKey || e.metaKey) {
    const key = e.key.toLowerCase();
    const again = key === "y" || (key === "z" && e.shiftKey);
    if (key !== "z" && !again) return;
    if (e.target.value !== e.target.dataset.before) return; // the cell's own is first
    if (again ? move(undone, done, 1) : move(done, undone, 0)) {
      e.preventDefault();
      tell(document.activeElement);
    }
    return;
  }
  const at = place(e.target);
  const { selectionStart: from, selectionEnd: to, value } = e.target;
  const way = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    Enter: [1, 0],
    ArrowLeft: from === 0 && to === 0 && [0, -1],
    ArrowRight: from === value.length && to === value.length && [0, 1],
  }[e.key];
  if (!way || !at) return;
  e.preventDefault();
  const next = at.rows[at.r + way[0]]?.[at.c + way[1]];
  next?.focus();
  next?.select();
});

document.addEventListener("paste", (e) => {
  if (!isCell(e)) return;
  const text = e.clipboardData.getData("text/plain");
  if (!/[\t\n]/.test(text.trimEnd())) return;
  const at = place(e.target);
  e.preventDefault();
  const pasted = [];
  let outside = 0;
  text
    .replace(/\r?\n$/, "")
    .split(/\r?\n/)
    .forEach((line, i) =>
      line.split("\t").forEach((cell, j) => {
        const input = at.rows[at.r + i]?.[at.c + j];
        if (!input) {
          outside += cell.trim() ? 1 : 0;
          return;
        }
        pasted.push([input, input.value, cell]);
        input.value = input.dataset.before = cell;
        show(input);
      }),
    );
  step(pasted);
  tell(e.target);
  if (outside)
    say(
      `${outside} of the cells that were pasted lie outside the table and were left out. Ctrl+Z takes the rest back.`,
    );
});
