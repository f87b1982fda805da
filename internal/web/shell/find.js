// The find box: arrows walk the results, Enter opens the one chosen or the
// first, Escape leaves. The results themselves come from the server.
const box = () => document.getElementById("find");
const found = () => document.getElementById("found");
const results = () => [...found().querySelectorAll('[role="option"]')];

let chosen = ""; // where the chosen result leads

function choose(item) {
  chosen = item?.href ?? "";
  for (const r of results()) r.setAttribute("aria-selected", r === item);
  if (item) {
    box().setAttribute("aria-activedescendant", item.id);
    item.scrollIntoView({ block: "nearest" });
  } else box().removeAttribute("aria-activedescendant");
}

function close() {
  found().replaceChildren();
  choose(null);
}

document.addEventListener("keydown", (e) => {
  if (e.target !== box()) return;
  const list = results();
  const at = list.findIndex((r) => r.getAttribute("aria-selected") === "true");
  if (e.key === "ArrowDown" || e.key === "ArrowUp") {
    e.preventDefault();
    const step = e.key === "ArrowDown" ? 1 : -1;
    if (list.length) choose(list[(at + step + list.length) % list.length]);
  } else if (e.key === "Enter" && at >= 0) {
    e.preventDefault();
    const link = list[at];
    close();
    box().value = "";
    box().blur();
    link.click();
  } else if (e.key === "Escape") {
    close();
    box().value = "";
    box().blur();
  }
});

// Results of what was typed later come while one is chosen: it stays so.
document.addEventListener("htmx:afterSwap", () => {
  const again = chosen && results().find((r) => r.href === chosen);
  if (again && again.getAttribute("aria-selected") !== "true") choose(again);
});

document.addEventListener("focusin", (e) => {
  if (found()?.children.length && !e.target.closest(".find")) close();
});
