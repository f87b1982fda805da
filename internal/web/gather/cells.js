// A cell of a sheet as it was sent tells where its meaning comes from, by a click, or by the
// arrow keys once the sheet has the focus.
const sent = (el) => el.closest?.(".cols")?.querySelector("tbody.sent");

function pick(td) {
  const table = td.closest("table"),
    row = td.parentElement;
  for (const was of table.querySelectorAll("td.picked"))
    was.classList.remove("picked");
  td.classList.add("picked");
  td.scrollIntoView({ block: "nearest", inline: "nearest" });
  const head = table.tHead.rows[0]?.cells[td.cellIndex];
  const parts = [
    `Row ${row.dataset.row}, ${head?.textContent.trim() || "column " + td.cellIndex}: ${td.textContent.trim() || "empty"}`,
  ];
  if (row.dataset.as !== "row")
    parts.push(`The row is taken as ${row.dataset.as}: ${row.dataset.why}`);
  else {
    if (head?.dataset.is)
      parts.push(`The column is ${head.dataset.is}: ${head.dataset.why}`);
    let above = row.previousElementSibling;
    while (above && above.dataset.as !== "heading")
      above = above.previousElementSibling;
    if (above)
      parts.push(`Row ${above.dataset.row} heads it: ${above.dataset.why}`);
    if (table.dataset.all) parts.push(`All rows: ${table.dataset.all}`);
  }
  td.closest(".sheetview").querySelector(".meaning").textContent =
    parts.join(". ") + ".";
}

document.addEventListener("click", (e) => {
  const td = e.target.closest?.("tbody.sent td");
  if (td) pick(td);
});

document.addEventListener("keydown", (e) => {
  const body = e.target.classList?.contains("cols") && sent(e.target);
  const step = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
  }[e.key];
  if (!body || !step) return;
  const at = body.querySelector("td.picked");
  const row = at ? at.parentElement.sectionRowIndex + step[0] : 0;
  const column = at ? at.cellIndex + step[1] : 1;
  const td = body.rows[row]?.cells[column];
  if (td?.tagName === "TD") {
    e.preventDefault();
    pick(td);
  }
});
