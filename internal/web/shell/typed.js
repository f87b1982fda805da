// What is typed into a form is kept as it is typed, until it is sent or dropped, and stands
// there again when its page is opened: after a closed browser, a server that was stopped,
// a session that ran out.
const wait = 400;
const kept = (f) =>
  f.method === "post" &&
  f.enctype !== "multipart/form-data" &&
  !f.dataset.keep &&
  !!f.closest("#main:not(.door)") && // nobody is signed in at a door
  !f.closest(".dropdown-menu") &&
  !f.querySelector('[type="password"], [autocomplete="one-time-code"]');
const forms = () => [...document.querySelectorAll("#main form")].filter(kept);

// plain are the fields that are typed in; those that tell what they showed are kept with
// them, and the rest of what is hidden tells which form it is.
const plain = (x) =>
  x.name &&
  !["hidden", "password", "file", "submit", "button"].includes(x.type) &&
  x.tagName !== "BUTTON";
const partner = (x) =>
  x.form.elements[`w:${x.name.slice(2)}`] ?? x.form.elements[`was.${x.name}`];
const tells = (x) => /^(mark$|w:|was\.|seen\.)/.test(x.name);

function nameOf(form) {
  const fixed = [...form.elements].filter(
    (x) =>
      x.type === "hidden" && !tells(x) && !/^(_|f:)/.test(x.name) && x.name,
  );
  const button = form.querySelector("button[name]"); // what the form does
  if (button) fixed.push(button);
  const at = new URL(form.action).pathname;
  return short([at, ...fixed.map((x) => `${x.name}=${x.value}`)].join(" "));
}

// short is a name, or of a long one its beginning with a number of the rest.
function short(name) {
  if (name.length <= 300) return name;
  let n = 0;
  for (let i = 0; i < name.length; i++)
    n = (Math.imul(n, 31) + name.charCodeAt(i)) >>> 0;
  return `${name.slice(0, 200)} ${n}`;
}

// fieldsOf are the names and values of a form: of a grid those cells that differ from what
// they showed, with that; nothing where nothing differs.
function fieldsOf(form) {
  const out = [];
  for (const x of form.elements) {
    if (!plain(x) || (/^(checkbox|radio)$/.test(x.type) && !x.checked))
      continue;
    const was = partner(x);
    if (was && was.value === x.value) continue;
    if (was) out.push([was.name, was.value]);
    out.push([x.name, x.value]);
  }
  for (const x of form.elements)
    if (/^(mark$|seen\.)/.test(x.name)) out.push([x.name, x.value]);
  return out;
}

const differs = (x) =>
  x.options
    ? x.value !== first(x)
    : x.checked !== x.defaultChecked || x.value !== x.defaultValue;
const untouched = (form) => ![...form.elements].filter(plain).some(differs);
const first = (select) =>
  ([...select.options].find((o) => o.defaultSelected) ?? select.options[0])
    ?.value;

const due = new Map(); // forms that were typed in, with what will keep them
const began = new WeakSet(); // forms of which something is kept
let keeping = Promise.resolve("");

const here = () => location.pathname + location.search;

const titleOf = () =>
  (document.querySelector("#main h1")?.textContent ?? document.title)
    .trim()
    .replace(/\s+/g, " ")
    .slice(0, 120);

function bodyOf(form, fields) {
  return new URLSearchParams({
    _csrf: form.elements._csrf.value,
    at: here(),
    form: nameOf(form),
    title: titleOf(),
    fields: fields.length ? JSON.stringify(fields) : "",
  });
}

const signedOut =
  "You are signed out, so what you type is not kept. Sign in in another window, then go on here.";

// renew takes the key of forms from a page of a new session, and tells whether it did.
function renew(text) {
  const key = /name="_csrf" value="([^"]+)"/.exec(text)?.[1];
  const old = [...document.querySelectorAll('[name="_csrf"]')];
  if (!key || !old.some((x) => x.value !== key)) return false;
  for (const x of old) x.value = key;
  return true;
}
document.addEventListener("htmx:beforeOnLoad", (e) =>
  renew(e.detail.xhr.responseText),
);

// post gives why something was not kept, or nothing.
async function post(body) {
  try {
    const answer = await fetch("/typed", { method: "POST", body });
    if (new URL(answer.url).pathname === "/sign-in") return signedOut;
    if (answer.status === 204) return "";
    const text = await answer.text();
    if (renew(text)) {
      body.set("_csrf", document.querySelector('[name="_csrf"]').value);
      return post(body);
    }
    return answer.status === 422
      ? text
      : "What you type here is not kept until it is sent.";
  } catch {
    return "The server did not answer, so what you type is not kept. Try again in a moment.";
  }
}

// keep keeps what a form says now, or forgets it where it says what it did at first; it
// gives why it did not, or nothing.
function keep(form) {
  clearTimeout(due.get(form));
  due.delete(form);
  const same = untouched(form);
  if (!form.isConnected || (same && !began.has(form))) return keeping;
  const body = bodyOf(form, same ? [] : fieldsOf(form));
  keeping = keeping.then(async () => {
    const why = await post(body);
    if (why) say(why);
    else if (same) hush(form);
    else tell(form, "Kept, and not sent yet.");
    return why;
  });
  return keeping;
}

function hush(form) {
  began.delete(form);
  form.querySelector(":scope > .kept")?.remove();
}

// tell says in a form since when it waits, with a way to drop it: behind its buttons, so
// that none moves away under a pointer while somebody types; where the form comes with it,
// before all else.
function tell(form, text, first) {
  began.add(form);
  let note = form.querySelector(":scope > .kept");
  if (!note) {
    note = noteOf(() => forget(form));
    if (first) form.prepend(note);
    else form.append(note);
  }
  note.firstChild.textContent = text;
}

function noteOf(drop) {
  const note = document.createElement("p");
  note.className = "kept quiet";
  note.setAttribute("role", "status");
  const button = document.createElement("button");
  button.type = "button";
  button.className = "btn btn-plain";
  button.textContent = "Drop it";
  button.addEventListener("click", drop);
  note.append(document.createElement("span"), " ", button);
  return note;
}

async function forget(form) {
  clearTimeout(due.get(form));
  due.delete(form);
  await keeping;
  const why = await post(bodyOf(form, []));
  if (why) say(why);
  else location.replace(here());
}

// restore puts into the forms of a page what was typed into them before.
function restore() {
  const data = document.getElementById("typed");
  if (!data) return;
  const list = JSON.parse(data.textContent);
  data.remove();
  const there = forms();
  for (const kept of list) {
    const form = there.find((x) => nameOf(x) === kept.form);
    if (!form) {
      orphan(kept);
      continue;
    }
    fill(form, kept.fields);
    tell(form, `Typed since ${kept.since}, and not sent.`, true);
    const folded = form.closest("details");
    if (folded) folded.open = true;
  }
}

// orphan shows what was typed into a form that the page has no more.
function orphan({ form, since, fields }) {
  const note = noteOf(async () => {
    const token = document.querySelector('[name="_csrf"]').value;
    const why = await post(
      new URLSearchParams({ _csrf: token, at: here(), form, fields: "" }),
    );
    if (why) say(why);
    else note.remove();
  });
  const texts = fields.filter(([name, v]) => v && !tells({ name }));
  note.firstChild.textContent = `What you typed here since ${since} was not sent, and its form is gone: ${texts.map(([, v]) => `“${v}”`).join(", ")}.`;
  document.getElementById("main").prepend(note);
}

function fill(form, fields) {
  const by = new Map();
  for (const [name, value] of fields)
    by.set(name, [...(by.get(name) ?? []), value]);
  for (const x of form.elements) {
    const values = by.get(x.name);
    if (/^(checkbox|radio)$/.test(x.type)) {
      x.checked = !!values?.includes(x.value);
    } else if (values?.length && (plain(x) || tells(x))) {
      x.value = values.shift();
      if (x.classList.contains("cell")) x.classList.add("changed");
    }
  }
}

function say(text) {
  const toast = document.getElementById("unanswered");
  toast.querySelector("span").textContent = text;
  window.bootstrap.Toast.getOrCreateInstance(toast).show();
}

for (const kind of ["input", "change"])
  document.addEventListener(kind, (e) => {
    const { form } = e.target;
    if (!form || !plain(e.target) || !kept(form)) return;
    clearTimeout(due.get(form));
    due.set(
      form,
      setTimeout(() => keep(form), wait),
    );
  });

// A form that is sent waits for what is on its way, so that it is not kept once more after
// it was sent; whoever is signed out meanwhile keeps it. It says what is kept of it, to be
// forgotten once it is done.
let sending;
document.addEventListener(
  "submit",
  (e) => {
    const form = e.target;
    if (sending === form || !forms().includes(form)) return;
    if (![...form.elements].some(plain)) return;
    let draft = form.elements._draft;
    if (!draft) {
      draft = document.createElement("input");
      draft.type = "hidden";
      draft.name = "_draft";
      form.append(draft);
    }
    draft.value = `${here()} ${nameOf(form)}`;
    if (!began.has(form) && (!due.has(form) || untouched(form))) {
      clearTimeout(due.get(form));
      due.delete(form);
      return;
    }
    e.preventDefault();
    e.stopImmediatePropagation();
    keep(form).then((why) => {
      if (why === signedOut || !form.isConnected) return;
      sending = form;
      form.requestSubmit(e.submitter);
      sending = undefined;
    });
  },
  true,
);

addEventListener("pagehide", () => {
  for (const form of due.keys())
    if (form.isConnected)
      fetch("/typed", {
        method: "POST",
        body: bodyOf(form, fieldsOf(form)),
        keepalive: true,
      });
});
document.addEventListener("htmx:beforeSwap", () => {
  for (const form of [...due.keys()]) keep(form);
});

restore();
document.addEventListener("htmx:afterSettle", restore);
