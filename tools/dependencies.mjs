// Lists what the program is built from and checked with, with versions and
// licences, as docs/dependencies.md. Licences of Go modules are read off their own
// files, those of npm packages off the lock file.
import { execFileSync } from "node:child_process";
import { readFileSync, readdirSync, writeFileSync } from "node:fs";

const known = [
  [/Mozilla Public License,? [Vv]ersion 2\.0|Mozilla Public License Version 2/, "MPL-2.0"],
  [/Apache License\s+Version 2\.0/, "Apache-2.0"],
  [/Permission is hereby granted, free of charge/, "MIT"],
  [/Permission to use, copy, modify, and\/or distribute/, "ISC"],
  [/Neither the names? of/, "BSD-3-Clause"],
  [/Redistribution and use in source and binary forms/, "BSD-2-Clause"],
  [/SIL OPEN FONT LICENSE/i, "OFL-1.1"],
  [/This is free and unencumbered software/, "Unlicense"],
];

function licenceOf(dir) {
  const files = readdirSync(dir).filter((f) => /^(licen[cs]e|copying)(\..*)?$/i.test(f));
  const found = new Set();
  for (const f of files) {
    const text = readFileSync(`${dir}/${f}`, "utf8");
    const hit = known.find(([pattern]) => pattern.test(text));
    found.add(hit ? hit[1] : "see its file");
  }
  return found.size > 0 ? [...found].sort().join(" and ") : "none found";
}

// One list from several commands: what the program itself is built from, and what
// only its checks use.
function goModules(args) {
  const form = "{{with .Module}}{{if not .Main}}{{.Path}} {{.Version}} {{.Dir}}{{end}}{{end}}";
  const out = execFileSync("go", ["list", "-deps", "-f", form, ...args], { encoding: "utf8", maxBuffer: 64 << 20 });
  return new Map(
    [...new Set(out.split("\n").filter(Boolean))].map((l) => {
      const [path, version, dir] = l.split(" ");
      return [path, { version, dir }];
    }),
  );
}

// When each version was published, by the module proxy: what a scan for known faults would be held against, where its
// data cannot be had.
function datesOf(modules) {
  const form = '{{.Path}} {{with .Time}}{{.Format "2006-01-02"}}{{else}}not told{{end}}';
  const out = execFileSync("go", ["list", "-m", "-f", form, ...modules], { encoding: "utf8" });
  return new Map(
    out
      .split("\n")
      .filter(Boolean)
      .map((l) => [l.slice(0, l.indexOf(" ")), l.slice(l.indexOf(" ") + 1)]),
  );
}

const ships = goModules(["./cmd/zephyrfield"]);
const all = goModules(["-test", "./..."]);
const dates = datesOf([...all.keys()]);
const row = (cells) => `| ${cells.join(" | ")} |`;
const lines = [
  "# What it is built from",
  "",
  "Made by `make dependencies`; the tests see that it is as the sources are.",
  "",
  "## In the program",
  "",
  row(["module", "version", "of", "licence"]),
  row(["---", "---", "---", "---"]),
];
const byName = (a, b) => (a[0] < b[0] ? -1 : 1);
for (const [path, m] of [...ships].sort(byName)) lines.push(row([path, m.version, dates.get(path), licenceOf(m.dir)]));

const lock = JSON.parse(readFileSync("package-lock.json", "utf8"));
const own = JSON.parse(readFileSync("package.json", "utf8"));
const inside = ["htmx.org", "@fontsource-variable/bricolage-grotesque", "@fontsource-variable/source-sans-3"];
lines.push(
  "",
  "Served with it, copied from their packages:",
  "",
  row(["package", "version", "licence"]),
  row(["---", "---", "---"]),
);
for (const name of inside) {
  const { version, license } = lock.packages[`node_modules/${name}`];
  lines.push(row([name, version, license]));
}

lines.push(
  "",
  "## In its checks only",
  "",
  row(["module or package", "version", "of", "licence"]),
  row(["---", "---", "---", "---"]),
);
for (const [path, m] of [...all].sort(byName))
  if (!ships.has(path)) lines.push(row([path, m.version, dates.get(path), licenceOf(m.dir)]));
const direct = new Set(Object.keys(own.devDependencies));
for (const [at, p] of Object.entries(lock.packages).sort(byName)) {
  const name = at.replace(/^.*node_modules\//, "");
  if (at === "" || inside.includes(name)) continue;
  lines.push(row([direct.has(name) ? `**${name}**` : name, p.version, "", p.license || "not told"]));
}
writeFileSync(process.argv[2] || "docs/dependencies.md", `${lines.join("\n")}\n`);
