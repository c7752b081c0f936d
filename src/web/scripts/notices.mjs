// Gathers the notices of what ships with the program: packages of the server and of the pages, fonts among them, each with its licence.
// Usage: node notices.mjs SERVER.deps.json OUTPUT-FOLDER
import { existsSync, readFileSync, readdirSync, writeFileSync } from "node:fs";
import { homedir } from "node:os";
import { join } from "node:path";

const [deps, into] = process.argv.slice(2);
const web = join(import.meta.dirname, "..");
const read = (file) => readFileSync(file, "utf8").replace(/^\uFEFF/, "").replaceAll("\r\n", "\n").trim();

/** The text of a package's licence, where the package brings it. */
function textIn(folder) {
  const file = existsSync(folder) ? readdirSync(folder).find((f) => /^(licen[cs]e|copying|ofl|third-?party-?notices)(\.|$|-)/i.test(f) && !/\.(js|ts|json)$/i.test(f)) : undefined;
  return file ? read(join(folder, file)) : "";
}

function ofServer() {
  const folders = [process.env.NUGET_PACKAGES, join(homedir(), ".nuget", "packages"), "/opt/nuget/packages"].filter((f) => f && existsSync(f));
  const libraries = JSON.parse(read(deps)).libraries;
  return Object.entries(libraries)
    .filter(([, l]) => l.type === "package")
    .map(([name]) => {
      const [id, version] = name.split("/");
      const folder = folders.map((f) => join(f, id.toLowerCase(), version)).find((f) => existsSync(f));
      const spec = folder ? read(join(folder, `${id.toLowerCase()}.nuspec`)) : "";
      const one = (tag) => new RegExp(`<${tag}[^>]*>([^<]*)</${tag}>`).exec(spec)?.[1].trim() ?? "";
      return { name: id, version, part: "server", licence: one("license") || one("licenseUrl"), by: one("copyright") || one("authors"), text: folder ? textIn(folder) : "" };
    });
}

function ofPages() {
  const packages = JSON.parse(read(join(web, "package-lock.json"))).packages;
  return Object.entries(packages)
    .filter(([path, p]) => path.startsWith("node_modules/") && !p.dev && !p.optional && existsSync(join(web, path, "package.json")))
    .map(([path, p]) => {
      const own = JSON.parse(read(join(web, path, "package.json")));
      const author = typeof own.author === "string" ? own.author : (own.author?.name ?? "");
      return { name: own.name, version: p.version, part: path.includes("@fontsource") ? "font" : "page", licence: own.license ?? "", by: author, text: textIn(join(web, path)) };
    });
}

const data = [{ name: "@zxcvbn-ts/language-common", version: "3.0.4", part: "data", licence: "MIT", by: "", text: "Hashes of the commonest passwords were made of its list." }];
const found = new Map([...ofServer(), ...ofPages(), ...data].map((n) => [`${n.name} ${n.version}`, n]));
const all = [...found.values()].sort((a, b) => a.name.localeCompare(b.name, "en"));
const without = all.filter((n) => !n.licence && !n.text);
if (all.length < 20 || without.length > 0) {
  console.error(`No licence is known of: ${without.map((n) => n.name).join(", ") || `${all.length} packages only`}`);
  process.exit(1);
}
// The page lists them; the texts are in the file.
writeFileSync(join(into, "notices.json"), JSON.stringify(all.map(({ name, version, part, licence }) => ({ name, version, part, licence }))));
writeFileSync(join(into, "notices.txt"), all.map((n) => `${n.name} ${n.version}\nLicence: ${n.licence}\n${n.by}\n\n${n.text}`.trim()).join(`\n\n${"-".repeat(80)}\n\n`) + "\n");
