// Copies what the pages need from pinned npm packages into vendor/, with the
// licences, and compiles the parts of Bootstrap that they use. Run it with npm run
// vendor after changing a version or bootstrap.scss.
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import * as sass from "sass";

const here = dirname(fileURLToPath(import.meta.url));
const modules = join(here, "../../../node_modules");
const files = [
  [
    "@fontsource-variable/archivo/files/archivo-latin-wdth-normal.woff2",
    "archivo.woff2",
  ],
  ["@fontsource-variable/archivo/LICENSE", "archivo.LICENSE"],
  ["bootstrap/dist/js/bootstrap.bundle.min.js", "bootstrap.js"],
  ["bootstrap/LICENSE", "bootstrap.LICENSE"],
  ["htmx.org/dist/htmx.min.js", "htmx.js"],
  ["htmx.org/LICENSE", "htmx.LICENSE"],
];

mkdirSync(join(here, "vendor"), { recursive: true });
for (const [from, to] of files) {
  copyFileSync(join(modules, from), join(here, "vendor", to));
}
const scripts = join(here, "vendor", "bootstrap.js"); // its map is not shipped
writeFileSync(
  scripts,
  readFileSync(scripts, "utf8").replace(/\n\/\/# sourceMappingURL.*/, "\n"),
);

const { css } = sass.compile(join(here, "bootstrap.scss"), {
  loadPaths: [modules],
  style: "compressed",
  charset: false,
  quietDeps: true,
  silenceDeprecations: ["import", "global-builtin", "color-functions"],
});
writeFileSync(join(here, "vendor", "bootstrap.css"), css + "\n");
