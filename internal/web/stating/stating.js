// What is typed in a statement is kept as it is typed: a moment after the last key, and
// at once when a cell is left or the page is.
const wait = 400;
const formOf = (e) => e.target.closest?.("form.stating");
let due; // of what is typed and not on its way
let sending = Promise.resolve();
let busy = 0; // what is on its way, or waits for it

let touched = new Set(); // the cells that were typed in
const shown = (cell) =>
  cell.defaultValue ??
  [...cell.options].find((o) => o.defaultSelected)?.value ??
  "";
const differs = (cell) =>
  cell.isConnected && cell.value !== (cell.dataset.kept ?? shown(cell));

// taken are the values of the cells that differ from what was kept, which then they
// are; nothing where none does.
function taken(form) {
  clearTimeout(due);
  due = undefined;
  const changed = [...touched].filter(differs);
  touched = new Set();
  if (!changed.length) return undefined;
  const values = { do: "keep", _csrf: form.elements._csrf.value };
  for (const cell of changed) {
    values[cell.name] = cell.value;
    values["w:" + cell.name.slice(2)] = cell.dataset.was;
    cell.dataset.kept = cell.value;
    cell.classList.toggle("changed", cell.value !== cell.dataset.is);
  }
  return values;
}

// What was not kept is tried again with the next cell, and told; whoever is signed out
// meanwhile stays on the page, with what is typed on it.
let answered; // the status of the answer to what was sent last
let why; // what the answer said was wrong
document.addEventListener("htmx:beforeRequest", (e) => {
  if (e.target.id === "effect") why = undefined;
});
document.addEventListener("htmx:beforeOnLoad", (e) => {
  const { target, xhr } = e.detail;
  if (target?.id !== "effect") return;
  if (xhr.getResponseHeader("HX-Redirect")) e.preventDefault();
  answered = xhr.status;
  const page = new DOMParser().parseFromString(xhr.responseText, "text/html");
  why = page.querySelector("#main .wrong")?.textContent;
});

function failed(form, values) {
  const key = form.elements._csrf.value; // of a new session, where it is another
  for (const cell of form.querySelectorAll(".cell"))
    if (cell.name in values) {
      delete cell.dataset.kept;
      touched.add(cell);
    }
  if (answered === 422 && key !== values._csrf) {
    keep(form);
    return;
  }
  form.querySelector(".kept").textContent =
    why ??
    "Not kept: you are signed out, or the server did not take it. Sign in in another window; then go on here.";
}

function keep(form) {
  const values = taken(form);
  if (!values) return sending;
  const typed = form.querySelectorAll(".cell.changed").length;
  const note = document.querySelector(".parts [aria-current] small");
  if (typed) note.textContent = `${typed} typed`;
  busy++;
  sending = sending
    .then(() => {
      const effect = document.getElementById("effect"); // what stands there by then
      answered = 0;
      return window.htmx.ajax("POST", form.dataset.keep + location.search, {
        source: effect,
        target: effect,
        select: "#effect",
        swap: "outerHTML show:none",
        values,
      });
    })
    .then(() => {
      if (answered !== 200) return failed(form, values);
      follow(form);
      form.querySelector(".kept").textContent = "Kept, and not sent yet.";
      form.querySelector('[value="drop"]').hidden = false;
    })
    .finally(() => busy--);
  return sending;
}

// What the server changed beside what was typed is shown: the amounts that follow what is
// said of a rest.
function follow(form) {
  for (const { value, dataset } of document.querySelectorAll("#effect data")) {
    const cell = form.elements[dataset.field];
    if (!cell || cell.value === value || touched.has(cell)) continue;
    cell.value = cell.dataset.kept = cell.dataset.before = value;
    cell.classList.toggle("changed", value !== cell.dataset.is);
  }
}

document.addEventListener("input", (e) => {
  const form = formOf(e);
  if (!form) return;
  touched.add(e.target);
  clearTimeout(due);
  due = setTimeout(() => keep(form), wait);
});
document.addEventListener("change", (e) => {
  const form = formOf(e);
  if (!form) return;
  touched.add(e.target);
  keep(form);
});

// A button of the form sends what is typed on it, or drops it: what is on its way comes
// first, and what waits is not kept after it.
let passing;
document.addEventListener(
  "submit",
  (e) => {
    const form = e.target;
    if (!form.matches("form.stating") || form === passing) return;
    clearTimeout(due);
    due = undefined;
    touched = new Set();
    if (!busy) return;
    e.preventDefault();
    e.stopImmediatePropagation();
    sending.then(() => {
      passing = form;
      form.requestSubmit(e.submitter);
      passing = undefined;
    });
  },
  true,
);

// w goes into the cells, where words are wanted first, Escape out of them.
document.addEventListener("keydown", (e) => {
  if (e.ctrlKey || e.metaKey || e.altKey) return;
  const inside = formOf(e) && e.target.matches(".cell");
  if (e.key === "Escape" && inside) {
    e.target.blur();
  } else if (e.key === "w" && !e.target.closest?.("input, textarea, select")) {
    const cells = document.querySelectorAll("form.stating .cell");
    if (!cells.length) return;
    const wanted = cells[0].value && document.querySelector("[data-wanted]");
    const cell = wanted || cells[0];
    e.preventDefault();
    cell.closest("td")?.classList.remove("far");
    cell.focus();
    if (cell.matches("textarea")) cell.selectionStart = cell.value.length;
    else cell.select?.();
  }
});

// A page that is left first keeps what is typed on it.
document.addEventListener(
  "click",
  (e) => {
    const link = e.target.closest?.("a[href]");
    const form = document.querySelector("form.stating");
    if (!link || !form || ![...touched].some(differs)) return;
    e.preventDefault();
    e.stopPropagation();
    keep(form).then(() => link.click());
  },
  true,
);

// A window that is closed, or another address, takes no time to be asked.
addEventListener("pagehide", () => {
  const form = document.querySelector("form.stating");
  const values = form && taken(form);
  if (values)
    fetch(form.dataset.keep + location.search, {
      method: "POST",
      body: new URLSearchParams(values),
      keepalive: true,
    });
});
