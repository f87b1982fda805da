// Copies what the pages need from pinned npm packages into vendor/, with the
// licences. Run it with npm run vendor after changing a version.
import { copyFileSync, mkdirSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const here = dirname(fileURLToPath(import.meta.url));
const modules = join(here, "../../../node_modules");
const files = [
  [
    "@fontsource-variable/archivo/files/archivo-latin-wdth-normal.woff2",
    "archivo.woff2",
  ],
  ["@fontsource-variable/archivo/LICENSE", "archivo.LICENSE"],
  ["bootstrap/dist/css/bootstrap.min.css", "bootstrap.css"],
  ["bootstrap/LICENSE", "bootstrap.LICENSE"],
  ["htmx.org/dist/htmx.min.js", "htmx.js"],
  ["htmx.org/LICENSE", "htmx.LICENSE"],
];

mkdirSync(join(here, "vendor"), { recursive: true });
for (const [from, to] of files) {
  copyFileSync(join(modules, from), join(here, "vendor", to));
}
