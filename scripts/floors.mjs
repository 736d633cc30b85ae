// npm run floors: draws which folder imports from which, as it stands, into docs/floors.svg.
import { execFileSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { fileURLToPath } from "node:url";

const { floors, rooms } = createRequire(import.meta.url)("./house.cjs");
const root = fileURLToPath(new URL("..", import.meta.url));
const cruised = JSON.parse(
  execFileSync("npx", ["depcruise", "--config", ".dependency-cruiser.cjs", "--output-type", "json", "packages", "apps"], {
    cwd: root,
    encoding: "utf8",
    maxBuffer: 1e9,
    stdio: ["ignore", "pipe", "ignore"],
  }),
);

/** The rows from the top down: applications, the demo, the rooms of operations, then the floors below them. */
const rows = [
  ["apps/web", /^apps\/web\/src/],
  ["apps/server", /^apps\/server\/src/],
  ["apps/cli", /^apps\/cli\/src/],
  ["packages/demo", /^packages\/demo\/src/],
  ["core: index, history, catalogue, runner", /^packages\/core\/src\/(index|operations\/(?!operation\.ts)[^/]+)\.ts$/],
  ["operations/hand", /^packages\/core\/src\/operations\/hand\//],
  ...[...rooms].reverse().map((name) => [`operations/${name}`, new RegExp(`^packages/core/src/operations/${name}/`)]),
  ["operations/operation.ts", /^packages\/core\/src\/operations\/operation\.ts$/],
  ...[...floors]
    .reverse()
    .filter((name) => name !== "operations")
    .map((name) => [name, new RegExp(`^packages/core/src/${name}(/|\\.ts$)`)]),
];
const rowOf = (path) => rows.findIndex(([, pattern]) => pattern.test(path));

const files = rows.map(() => 0);
const arrows = new Map();
for (const { source, dependencies } of cruised.modules) {
  const from = rowOf(source);
  if (from < 0) continue;
  files[from]++;
  for (const { resolved } of dependencies) {
    const to = rowOf(resolved);
    if (to >= 0 && to !== from) arrows.set(`${from} ${to}`, (arrows.get(`${from} ${to}`) ?? 0) + 1);
  }
}

const [HEIGHT, LEFT, WIDTH] = [30, 20, 300];
const middle = (row) => 20 + row * HEIGHT + HEIGHT / 2;
const boxes = rows.map(
  ([name], row) =>
    `<g><rect x="${LEFT}" y="${middle(row) - 12}" width="${WIDTH}" height="24" rx="5"/><text x="${LEFT + 12}" y="${middle(row) + 5}">${name}</text><text class="count" x="${LEFT + WIDTH - 12}" y="${middle(row) + 5}">${files[row]} files</text></g>`,
);
const lines = [...arrows].map(([key, count]) => {
  const [from, to] = key.split(" ").map(Number);
  const reach = LEFT + WIDTH + 16 + Math.abs(to - from) * 22;
  const [a, b] = [middle(from), middle(to)];
  const turned = to < from ? "up" : "";
  return `<path class="${turned}" stroke-width="${Math.min(5, 0.6 + Math.log2(count) / 2).toFixed(1)}" d="M${LEFT + WIDTH} ${a}C${reach} ${a} ${reach} ${b} ${LEFT + WIDTH + 5} ${b}"><title>${rows[from][0]} → ${rows[to][0]}: ${count}</title></path>`;
});
const style =
  "rect{fill:#f6efe2;stroke:#7d6a52}text{font:13px sans-serif;fill:#3a3027}.count{text-anchor:end;fill:#8a7a66}path{fill:none;stroke:#4f8f8a;stroke-opacity:.45}path.up{stroke:#b3261e;stroke-opacity:1}";
const size = `width="${LEFT + WIDTH + 440}" height="${40 + rows.length * HEIGHT}"`;
writeFileSync(
  `${root}docs/floors.svg`,
  `<svg xmlns="http://www.w3.org/2000/svg" ${size}>\n<title>Which folder imports from which</title>\n<style>${style}</style>\n<rect width="100%" height="100%" style="fill:#fffdf8;stroke:none"/>\n${[...lines, ...boxes].join("\n")}\n</svg>\n`,
);
const upward = [...arrows.keys()].filter((key) => Number(key.split(" ")[1]) < Number(key.split(" ")[0])).length;
console.log(`docs/floors.svg: ${rows.length} rows, ${arrows.size} arrows, ${upward} of them upward`);
