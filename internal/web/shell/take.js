// The tables of a page as CSV or XLSX, and its charts as SVG or PNG: as they are shown.
const main = () => document.getElementById("main");

function save(name, blob) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name.replace(/[^\w .,()+-]+/g, " ").trim() || "Turret";
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}

const words = (node) =>
  (node?.innerText ?? node?.textContent ?? "").replace(/\s+/g, " ").trim();

// nameOf is what a table or chart is called: by its label, its caption, or the
// heading before it.
function nameOf(node) {
  const label = node.getAttribute("aria-label")?.split(":")[0];
  const place = node.closest("section, aside");
  const head = place?.querySelector("h2, h3")?.cloneNode(true);
  head?.querySelectorAll("small, a").forEach((x) => x.remove());
  return (
    label ||
    words(node.querySelector("caption")) ||
    words(head) ||
    place?.getAttribute("aria-label") ||
    words(document.querySelector("h1"))
  );
}

// value writes a cell: numbers plainly, and no text that a spreadsheet would
// run.
function value(cell) {
  const field = cell.querySelector("input.cell, select");
  const glyph = cell.querySelector("svg[aria-label]");
  let text = field ? field.value : words(cell);
  if (!text && glyph) text = glyph.getAttribute("aria-label");
  const number = text.replaceAll("−", "-").replaceAll(",", "");
  if (/^[+-]?\d+(\.\d+)?$/.test(number)) return number.replace(/^\+/, "");
  if (/^[=+\-@\t]/.test(text)) text = "'" + text;
  return /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

function csv(table) {
  const rows = [...table.rows].map((row) =>
    [...row.cells].flatMap((c) => [
      value(c),
      ...Array(Math.max(0, c.colSpan - 1)).fill(""),
    ]),
  );
  return "\ufeff" + rows.map((r) => r.join(",")).join("\r\n") + "\r\n";
}

// spreadsheet has the server write a table as a workbook.
async function spreadsheet(name, table) {
  const form = new FormData();
  form.set("_csrf", document.querySelector('[name="_csrf"]').value);
  form.set("name", name.slice(0, 100));
  form.set("table", csv(table));
  const answer = await fetch("/take", { method: "POST", body: form });
  if (answer.ok) save(name + ".xlsx", await answer.blob());
  else
    document
      .querySelector("#take .taken")
      .append("It could not be written as XLSX; take it as CSV.");
}

const inks = [
  "fill",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "opacity",
  "font-size",
  "font-weight",
  "text-anchor",
];

// alone makes a chart stand on its own: with its inks as they are shown, and
// nothing that leads elsewhere.
function alone(svg) {
  const copy = svg.cloneNode(true);
  const shown = svg.querySelectorAll("*");
  copy.querySelectorAll("*").forEach((node, i) => {
    const style = getComputedStyle(shown[i]);
    for (const ink of inks) node.setAttribute(ink, style.getPropertyValue(ink));
    node.removeAttribute("href");
    node.removeAttribute("class");
  });
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("font-family", "Archivo, Arial, sans-serif");
  const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  ground.setAttribute("width", "100%");
  ground.setAttribute("height", "100%");
  ground.setAttribute(
    "fill",
    getComputedStyle(document.documentElement).getPropertyValue("--sheet"),
  );
  copy.prepend(ground);
  return new XMLSerializer().serializeToString(copy);
}

// font is the page's own, carried within a picture: a picture fetches nothing.
async function font() {
  const rule = [...document.styleSheets]
    .flatMap((sheet) => [...sheet.cssRules])
    .find((r) => r instanceof CSSFontFaceRule);
  const path = rule?.style.src.match(/url\("([^"]+)"\)/)?.[1];
  if (!path) return "";
  const bytes = new Uint8Array(await (await fetch(path)).arrayBuffer());
  const text = bytes.reduce((s, b) => s + String.fromCharCode(b), "");
  return `<style>@font-face{font-family:Archivo;font-weight:100 900;font-stretch:62% 125%;src:url(data:font/woff2;base64,${btoa(text)})}text{font-stretch:92%;font-feature-settings:"tnum","lnum"}</style>`;
}

async function png(svg) {
  const image = new Image();
  const picture = alone(svg).replace(/(<svg[^>]*>)/, `$1${await font()}`);
  image.src = "data:image/svg+xml," + encodeURIComponent(picture);
  await image.decode();
  const { width, height } = svg.viewBox.baseVal;
  const canvas = document.createElement("canvas");
  canvas.width = width * 2;
  canvas.height = height * 2;
  canvas.getContext("2d").drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((done) => canvas.toBlob(done, "image/png"));
}

function offer(list, text, forms) {
  const item = document.createElement("li");
  item.append(text + " ");
  for (const [name, act] of forms) {
    const button = document.createElement("button");
    button.type = "button";
    button.className = "btn btn-plain";
    button.textContent = name;
    button.setAttribute("aria-label", `${text} as ${name}`);
    button.addEventListener("click", act);
    item.append(button, " ");
  }
  list.append(item);
}

function open() {
  const dialog = document.getElementById("take");
  if (!dialog || dialog.classList.contains("show")) return;
  const list = dialog.querySelector(".taken");
  list.replaceChildren();
  for (const table of main().querySelectorAll("table")) {
    const name = nameOf(table);
    offer(list, name, [
      [
        "CSV",
        () => save(name + ".csv", new Blob([csv(table)], { type: "text/csv" })),
      ],
      ["XLSX", () => spreadsheet(name, table)],
    ]);
  }
  for (const svg of main().querySelectorAll("svg")) {
    const { width, height } = svg.viewBox.baseVal;
    if (!svg.getClientRects().length || width < 180 || height < 40) continue; // a glyph
    const name = nameOf(svg);
    offer(list, name, [
      [
        "SVG",
        () =>
          save(
            name + ".svg",
            new Blob([alone(svg)], { type: "image/svg+xml" }),
          ),
      ],
      ["PNG", async () => save(name + ".png", await png(svg))],
    ]);
  }
  if (!list.children.length)
    list.textContent = "There is no table and no chart on this page.";
  window.bootstrap.Modal.getOrCreateInstance(dialog).show();
}

document.addEventListener("click", (e) => {
  if (e.target.closest('[data-do="take"]')) open();
});

// A link to a table as text puts it on the clipboard, where there is one; else it
// is followed.
document.addEventListener("click", async (e) => {
  const link = e.target.closest("[data-copy]");
  if (!link || !navigator.clipboard) return;
  e.preventDefault();
  try {
    const answer = await fetch(link.href);
    if (!answer.ok) throw new Error(answer.status);
    await navigator.clipboard.writeText(await answer.text());
  } catch {
    location.href = link.href;
    return;
  }
  const said = document.createElement("span");
  said.setAttribute("role", "status");
  said.className = "quiet";
  said.textContent = link.dataset.copy;
  link.parentElement.querySelector('[role="status"]')?.remove();
  link.after(said);
});

document.addEventListener("keydown", (e) => {
  if (e.key !== "d" || e.ctrlKey || e.metaKey || e.altKey) return;
  if (e.target.closest?.("input, textarea, select, [contenteditable], .modal"))
    return;
  e.preventDefault();
  open();
});
