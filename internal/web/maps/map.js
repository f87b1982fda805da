// On the map a box is drawn around projects: what lies in it is listed. Without a
// pointer the same box is typed.
const numbers = (text) => text.split(",").map(Number);

// place gives a pointer's place in the picture's own units.
function place(svg, e) {
  const at = new DOMPoint(e.clientX, e.clientY);
  return at.matrixTransform(svg.getScreenCTM().inverse());
}

const day = (n) => new Date(n * 86400000).toISOString().slice(0, 10);

function send(box) {
  const form = document.getElementById("boxform");
  form.elements.box.value = box;
  form.requestSubmit();
}

let drawn = null; // the box being drawn
let swallow = false; // the click that ends it

document.addEventListener("pointerdown", (e) => {
  const svg = e.target.closest?.(".mapbox svg.map");
  if (!svg || e.button !== 0 || e.pointerType === "touch") return;
  const [left, right, top, bottom] = numbers(svg.parentNode.dataset.edges);
  const from = place(svg, e);
  if (from.x < left || from.x > right || from.y < top || from.y > bottom)
    return;
  const mark = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  mark.setAttribute("class", "box");
  drawn = { svg, from, mark, moved: false };
});

document.addEventListener("pointermove", (e) => {
  if (!drawn) return;
  const to = place(drawn.svg, e);
  const { from, mark, svg } = drawn;
  if (!drawn.moved && Math.hypot(to.x - from.x, to.y - from.y) < 5) return;
  if (!drawn.moved) svg.append(mark);
  drawn.moved = true;
  const [left, right, top, bottom] = numbers(svg.parentNode.dataset.edges);
  const x = Math.min(Math.max(to.x, left), right);
  const y = Math.min(Math.max(to.y, top), bottom);
  mark.setAttribute("x", Math.min(from.x, x));
  mark.setAttribute("y", Math.min(from.y, y));
  mark.setAttribute("width", Math.abs(x - from.x));
  mark.setAttribute("height", Math.abs(y - from.y));
  drawn.to = { x, y };
});

document.addEventListener("pointerup", () => {
  const box = drawn;
  drawn = null;
  swallow = !!box?.moved;
  if (!swallow) return;
  const { ends, edges, dated } = box.svg.parentNode.dataset;
  const [left, right, top, bottom] = numbers(edges);
  const [lowX, highX, lowY, highY] = numbers(ends);
  const x = (at) => lowX + ((at - left) / (right - left)) * (highX - lowX);
  const y = (at) => highY - ((at - top) / (bottom - top)) * (highY - lowY);
  const write = (v, axis) =>
    dated[axis] === "d" ? day(Math.round(v)) : String(Number(v.toPrecision(6)));
  const xs = [x(box.from.x), x(box.to.x)].sort((a, b) => a - b);
  const ys = [y(box.from.y), y(box.to.y)].sort((a, b) => a - b);
  send([...xs.map((v) => write(v, 0)), ...ys.map((v) => write(v, 1))].join());
});

// A link under the pointer is not dragged, and not followed after a box.
document.addEventListener(
  "click",
  (e) => {
    if (!swallow) return;
    swallow = false;
    if (!e.target.closest?.(".mapbox")) return;
    e.preventDefault();
    e.stopPropagation();
  },
  true,
);
document.addEventListener("dragstart", (e) => {
  if (e.target.closest?.(".mapbox")) e.preventDefault();
});

document.addEventListener(
  "submit",
  (e) => {
    if (e.target.id !== "boxform" || e.target.elements.box.value) return;
    const typed = [...e.target.querySelectorAll("[data-box]")];
    e.target.elements.box.value = typed.map((f) => f.value.trim()).join();
  },
  true,
);
