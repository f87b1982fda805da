// Blocks of a page are parts of screens. A screen that several blocks show is asked once.
const empty = () =>
  document.querySelectorAll("#main [data-screen]:not([data-asked])");

async function fill() {
  const by = new Map();
  for (const b of empty()) {
    b.dataset.asked = "";
    b.classList.add("htmx-request"); // it is on its way
    const at = b.dataset.screen;
    by.set(at, [...(by.get(at) ?? []), b]);
  }
  await Promise.all([...by].map(([at, blocks]) => ask(at, blocks)));
}

async function ask(at, blocks) {
  try {
    const res = await fetch(at);
    const page = new DOMParser().parseFromString(await res.text(), "text/html");
    for (const b of blocks) {
      const parts = [...page.querySelectorAll(b.dataset.part)];
      if (!res.ok || !parts.length)
        say(b, "The screen shows nothing of it here.");
      else b.replaceChildren(...parts.map((x) => x.cloneNode(true)));
      window.htmx.process(b);
    }
  } catch {
    for (const b of blocks) say(b, "It did not answer; open it, or try again.");
  } finally {
    for (const b of blocks) b.classList.remove("htmx-request");
  }
}

function say(block, text) {
  const p = document.createElement("p");
  p.className = "quiet";
  p.textContent = text;
  block.append(p);
}

document.addEventListener("htmx:load", fill);
fill();

// While a page is arranged, a block that is dragged onto another takes its place: the address
// says which come in what order.
let held;
const blockAt = (e) => e.target.closest?.("[data-block]");
document.addEventListener("dragstart", (e) => {
  held = blockAt(e);
});
document.addEventListener("dragend", () => {
  held = undefined;
});
document.addEventListener("dragover", (e) => {
  if (held && blockAt(e)) e.preventDefault();
});
document.addEventListener("drop", (e) => {
  const onto = blockAt(e);
  if (!held || !onto || onto === held) return;
  e.preventDefault();
  const to = new URL(location.href);
  const list = to.searchParams.get("blocks").split(" ");
  const [moved] = list.splice(+held.dataset.block, 1);
  list.splice(+onto.dataset.block, 0, moved);
  to.searchParams.set("blocks", list.join(" "));
  location.assign(to);
});
