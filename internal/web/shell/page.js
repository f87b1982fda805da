// What a page does once it stands: the rail opens on the selected period, and
// after a swap the focus is where it can go on.
function openRail() {
  const item = document.querySelector(".rail .selected");
  const rail = item?.closest(".periods");
  if (rail)
    rail.scrollLeft =
      item.offsetLeft - rail.clientWidth * 0.75 + item.offsetWidth;
  // Tab goes to the rail once; arrows go along it.
  const list = periods();
  const now = list.find((a) => a.closest(".selected")) ?? list.at(-1);
  for (const link of list) link.tabIndex = link === now ? 0 : -1;
}
const periods = () => [...document.querySelectorAll(".rail a.period")];

document.addEventListener("keydown", (e) => {
  const list = periods();
  const at = list.indexOf(document.activeElement);
  const to = {
    ArrowLeft: at - 1,
    ArrowRight: at + 1,
    Home: 0,
    End: list.length - 1,
  }[e.key];
  if (at < 0 || !list[to] || e.altKey || e.ctrlKey || e.metaKey) return;
  e.preventDefault();
  list[to].focus();
});

// On a narrow screen, what scrolls sideways can be reached by keyboard, and the
// cells of a table of words, which are folded there, carry their heads.
const narrow = window.matchMedia("(max-width: 1000px)");
function fold() {
  if (!narrow.matches) return;
  for (const box of document.querySelectorAll(
    ".scroll, .sticky, .part, .split > section, .index, main > table",
  ))
    if (box.scrollWidth > box.clientWidth && box.tabIndex < 0) box.tabIndex = 0;
  for (const table of document.querySelectorAll("table.texts")) {
    const heads = [...table.querySelectorAll("thead th")];
    for (const cell of table.querySelectorAll("tbody td"))
      cell.dataset.head = heads[cell.cellIndex]?.innerText.trim() ?? "";
  }
}

openRail();
fold();
narrow.addEventListener("change", fold);
let path = location.pathname;

document.addEventListener("htmx:afterSettle", () => {
  openRail();
  fold();
  if (location.pathname !== path) {
    path = location.pathname;
    const main = document.getElementById("main");
    if (!main?.contains(document.activeElement))
      main?.focus({ preventScroll: true }); // unless one is in it already
  }
});

// Whoever reads in the trail stays in it when it changes.
let reading = false;
document.addEventListener("htmx:beforeSwap", (e) => {
  const trail = document.getElementById("trail");
  reading =
    e.detail.target === trail && !!trail?.contains(document.activeElement);
});
document.addEventListener("htmx:afterSwap", () => {
  if (reading)
    document.querySelector("#trail.open")?.focus({ preventScroll: true });
  reading = false;
});

// Shift and a period of the rail compares with it.
document.addEventListener(
  "click",
  (e) => {
    const link = e.target.closest?.(".rail a.period");
    if (!link || !e.shiftKey) return;
    e.preventDefault();
    e.stopPropagation();
    window.htmx.ajax("GET", link.dataset.vs, {
      target: "#page",
      select: "#page",
      swap: "outerHTML show:none",
      source: link,
    });
  },
  true,
);

// The server cannot be reached.
document.addEventListener("htmx:sendError", () => {
  const toast = document.getElementById("unanswered");
  if (!toast) return;
  toast.querySelector("span").textContent =
    "The server did not answer. What you see is as it was; try again in a moment.";
  window.bootstrap.Toast.getOrCreateInstance(toast).show();
});
