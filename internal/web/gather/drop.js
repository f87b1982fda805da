// Files that are dropped on the area, or chosen, are sent at once.
const area = () => document.getElementById("drop");

for (const name of ["dragenter", "dragover"])
  document.addEventListener(name, (e) => {
    if (!area() || !e.dataTransfer?.types.includes("Files")) return;
    e.preventDefault();
    area().classList.add("over");
  });

document.addEventListener("dragleave", (e) => {
  if (!e.relatedTarget) area()?.classList.remove("over");
});

document.addEventListener("drop", (e) => {
  const form = area();
  if (!form || !e.dataTransfer?.files.length) return;
  e.preventDefault();
  form.querySelector("#files").files = e.dataTransfer.files;
  form.requestSubmit();
});

document.addEventListener("change", (e) => {
  if (e.target.id === "files" && e.target.files.length)
    e.target.form.requestSubmit();
});

// Whoever sends twice by a slip sends once.
document.addEventListener("submit", (e) => {
  if (e.target.id !== "drop") return;
  e.target.querySelector("button").textContent = "Sending…";
});
