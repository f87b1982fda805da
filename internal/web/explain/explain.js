// A figure that is chosen, or whose name is typed behind a brace, is put where the pen is.
let pen; // the text that was written in last
document.addEventListener("focusin", (e) => {
  if (e.target.matches?.(".pens textarea")) pen = e.target;
});

// A brace that is typed opens the list of figures.
document.addEventListener("keydown", (e) => {
  if (e.key !== "{" || !e.target.matches?.(".pens textarea")) return;
  const list = document.querySelector("[data-living]");
  if (!list) return;
  e.preventDefault();
  list.focus();
  list.showPicker?.();
});

document.addEventListener("change", (e) => {
  const list = e.target;
  if (!list.matches?.("[data-living]") || !list.value) return;
  const text = pen?.isConnected
    ? pen
    : document.querySelector(".pens textarea");
  text.focus();
  text.setRangeText(list.value, text.selectionStart, text.selectionEnd, "end");
  list.value = "";
  text.dispatchEvent(new Event("input", { bubbles: true }));
});
