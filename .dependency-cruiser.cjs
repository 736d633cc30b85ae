const { floors, rooms } = require("./scripts/house.cjs");

/** The arrows between the packages: web, server, cli → demo → core, and nothing else. */
const only = (name, from, to) => ({ name, severity: "error", from: { path: from }, to: { path: "^(packages|apps)/", pathNot: to } });

const core = (floor) => `^packages/core/src/${floor}(/|\\.ts$)`;
const upward = floors.map((floor, i) => ({
  name: `only-down-from-${floor}`,
  severity: "error",
  from: { path: core(floor) },
  to: { path: "^packages/core/src/", pathNot: floors.slice(0, i + 1).map(core) },
}));

const room = (name) => `^packages/core/src/operations/${name}/`;
/** The same between the rooms of operations. */
const betweenRooms = rooms.map((name, i) => ({
  name: `only-down-from-operations-${name}`,
  severity: "error",
  from: { path: room(name) },
  to: {
    path: "^packages/core/src/operations/",
    pathNot: [...rooms.slice(0, i + 1).map(room), "^packages/core/src/operations/operation\\.ts$"],
  },
}));

module.exports = {
  forbidden: [
    { name: "no-circles", severity: "error", from: {}, to: { circular: true } },
    ...upward,
    ...betweenRooms,
    only("core-alone", "^packages/core/src", "^packages/core/"),
    only("demo-on-core", "^packages/demo/src", "^packages/(demo|core)/"),
    only("server-on-demo-and-core", "^apps/server/", "^(apps/server|packages/(core|demo))/"),
    only("cli-on-core", "^apps/cli/", "^(apps/cli|packages/(demo|core))/"),
    only("web-on-demo-and-core", "^apps/web/src", "^(apps/web|packages/(demo|core))/"),
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "(dist|test|fixtures)/" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: {
      exportsFields: ["exports"],
      conditionNames: ["kneader-source", "import", "default"],
      extensions: [".ts", ".tsx", ".mjs", ".js"],
    },
  },
};
