// Keys: a letter follows the link of the page that names it, or does what has
// no address. Nothing is taken from someone who is typing.
const typing = (e) =>
  e.target.closest?.("input, textarea, select, [contenteditable]");

const links = {
  "[": '.rail a[rel="prev"]',
  "]": '.rail a[rel="next"]',
  ",": 'main a[rel="prev"]',
  ".": 'main a[rel="next"]',
};

function help() {
  window.bootstrap.Modal.getOrCreateInstance("#help").show();
}

// Into the trail, and back to where one came from: also where a change of the
// page took the focus away, or made the link anew.
let cameFrom;
function intoTrail() {
  const trail = document.querySelector("#trail.open");
  if (!trail) return;
  const at = document.activeElement;
  if (trail.contains(at) || (at === document.body && cameFrom)) {
    const same = (a) => a.href && a.href === cameFrom?.href;
    const back = cameFrom?.isConnected
      ? cameFrom
      : [...document.querySelectorAll("main a")].find(same);
    cameFrom = undefined;
    (back ?? document.getElementById("main")).focus();
    return;
  }
  cameFrom = at;
  trail.focus({ preventScroll: true });
}

document.addEventListener("keydown", (e) => {
  if (e.ctrlKey || e.metaKey || e.altKey || e.defaultPrevented) return;
  if (e.key === "Escape") {
    if (!typing(e) && !e.target.closest?.(".modal"))
      document.querySelector("#trail .close")?.click();
    return;
  }
  if (typing(e)) return;
  if (e.key === "?") {
    e.preventDefault();
    help();
  } else if (e.key === "/") {
    e.preventDefault();
    document.getElementById("find")?.select();
  } else if (e.key === "e") {
    intoTrail();
  } else if (e.key === "t") {
    const tables = [...document.querySelectorAll("details.figures")];
    const open = tables.some((d) => !d.open);
    for (const d of tables) d.open = open;
  } else {
    const link = document.querySelector(
      links[e.key] ?? `[data-key="${CSS.escape(e.key)}"]`,
    );
    if (link) {
      e.preventDefault();
      link.click();
    }
  }
});

document.addEventListener("click", (e) => {
  if (e.target.closest('[data-do="help"]')) help();
});
