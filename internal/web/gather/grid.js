// A grid of cells: arrows move, a block pasted from a spreadsheet fills from
// the cell on, changed cells show, and Ctrl+Z takes the last paste back.
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

const show = (input) =>
  input.classList.toggle("changed", input.value !== input.defaultValue);

const isCell = (e) => e.target.classList?.contains("cell");

let pasted = [];

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

document.addEventListener("keydown", (e) => {
  if (!isCell(e) || e.altKey) return;
  if ((e.ctrlKey || e.metaKey) && e.key === "z" && pasted.length) {
    e.preventDefault();
    for (const [input, value] of pasted) {
      input.value = value;
      show(input);
    }
    pasted = [];
    tell(e.target);
    return;
  }
  if (e.ctrlKey || e.metaKey) return;
  const at = place(e.target);
  const { selectionStart: from, selectionEnd: to, value } = e.target;
  const step = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    Enter: [1, 0],
    ArrowLeft: from === 0 && to === 0 && [0, -1],
    ArrowRight: from === value.length && to === value.length && [0, 1],
  }[e.key];
  if (!step || !at) return;
  e.preventDefault();
  const next = at.rows[at.r + step[0]]?.[at.c + step[1]];
  next?.focus();
  next?.select();
});

document.addEventListener("paste", (e) => {
  if (!isCell(e)) return;
  const text = e.clipboardData.getData("text/plain");
  if (!/[\t\n]/.test(text.trimEnd())) return;
  const at = place(e.target);
  e.preventDefault();
  pasted = [];
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
        pasted.push([input, input.value]);
        input.value = cell;
        show(input);
      }),
    );
  tell(e.target);
  if (outside)
    say(
      `${outside} of the cells that were pasted lie outside the table and were left out. Ctrl+Z takes the rest back.`,
    );
});
