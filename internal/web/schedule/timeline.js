// Bars of the timeline are moved, or stretched at their end, by the pointer; with the
// keyboard by Shift and an arrow. What that pushes is shown before anything is kept.
const wheelStep = 120;

const line = (node) => node.closest?.("figure.line[data-days]");

// dayWidth is how many pixels of the page a day of the figure takes.
function dayWidth(figure, svg) {
  const box = svg.getBoundingClientRect();
  const scale = box.width / svg.viewBox.baseVal.width;
  const left = Number(figure.dataset.left) * svg.viewBox.baseVal.width;
  const inner = svg.viewBox.baseVal.width - Number(figure.dataset.edge);
  const from = Math.min(Math.max(96, left), 270);
  return ((inner - from) * scale) / Number(figure.dataset.days);
}

function tryMove(link, days, stretch) {
  const to = new URL(link.href.baseVal ?? link.href, location);
  to.pathname = "/timeline/push";
  to.searchParams.set("by", days);
  if (stretch) to.searchParams.set("only", "finish");
  location.assign(to);
}

// tryLink shows what a link from one bar to another would push.
function tryLink(first, then) {
  const of = (link) =>
    new URL(link.href.baseVal ?? link.href, location).searchParams.get("of");
  if (!of(first) || !of(then) || of(first) === of(then)) return;
  const to = new URL(then.href.baseVal ?? then.href, location);
  to.pathname = "/timeline/link";
  to.searchParams.set("other", of(first));
  to.searchParams.set("way", "after");
  location.assign(to);
}

// told is where linking is spoken of, on pages of those who may link.
const told = () => document.querySelector("figure.line [data-tie]");

let drag;
document.addEventListener("pointerdown", (e) => {
  const figure = line(e.target);
  const rect = e.target.closest?.("rect.work, polyline.point");
  const link = rect?.closest("a");
  if (!figure || !link || e.button) return;
  e.preventDefault();
  const box = rect.getBoundingClientRect();
  drag = {
    rect,
    link,
    x: e.clientX,
    day: dayWidth(figure, rect.ownerSVGElement),
    scale: rect.ownerSVGElement.getScreenCTM().a,
    stretch: rect.tagName === "rect" && e.clientX > box.right - 5,
    width: Number(rect.getAttribute("width")),
    by: 0,
    tie: e.altKey && told() ? link : undefined,
  };
  rect.setPointerCapture?.(e.pointerId);
});

document.addEventListener("pointermove", (e) => {
  if (!drag || drag.tie) return;
  const dx = e.clientX - drag.x;
  drag.by = Math.round(dx / drag.day);
  const shift = (drag.by * drag.day) / drag.scale;
  if (drag.stretch)
    drag.rect.setAttribute("width", Math.max(1.5, drag.width + shift));
  else drag.rect.setAttribute("transform", `translate(${shift} 0)`);
});

document.addEventListener("pointerup", (e) => {
  if (!drag) return;
  const { link, by, stretch, tie } = drag;
  drag = undefined;
  if (tie) {
    const on = document
      .elementsFromPoint(e.clientX, e.clientY)
      .map((x) => x.closest("figure.line a[href*='of=']"))
      .find((x) => x && x !== tie);
    if (on) tryLink(tie, on);
    return;
  }
  if (by) {
    const stop = (e) => (e.preventDefault(), e.stopPropagation());
    document.addEventListener("click", stop, { capture: true, once: true });
    setTimeout(() => document.removeEventListener("click", stop, true), 300);
    tryMove(link, by, stretch);
  }
});

document.addEventListener("pointercancel", () => {
  drag?.rect.removeAttribute("transform");
  drag = undefined;
});

let first; // the bar that L was pressed on
document.addEventListener("keydown", (e) => {
  const link = e.target.closest?.("figure.line a[href*='of=']");
  if (e.key.toLowerCase() !== "l" || !link || !told()) return;
  if (e.ctrlKey || e.metaKey || e.altKey) return;
  e.preventDefault();
  e.stopPropagation();
  if (first?.isConnected && first !== link) return tryLink(first, link);
  first = link;
  const name = link.getAttribute("aria-label") ?? link.textContent.trim();
  told().textContent = `From ${name}: L on the one that follows links them.`;
});

document.addEventListener("keydown", (e) => {
  const days = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
  const link = e.target.closest?.("figure.line a[href*='of=']");
  if (!e.shiftKey || !days || !link) return;
  e.preventDefault();
  tryMove(link, days * (e.ctrlKey ? 5 : 1), false);
});

// The wheel with Ctrl zooms, as the links do.
let turned = 0;
document.addEventListener(
  "wheel",
  (e) => {
    if (!e.ctrlKey || !line(e.target)) return;
    e.preventDefault();
    turned += e.deltaY;
    if (Math.abs(turned) < wheelStep) return;
    document
      .querySelector(turned > 0 ? '[data-key="-"]' : '[data-key="+"]')
      ?.click();
    turned = 0;
  },
  { passive: false },
);
