/** The arrows between the packages: web → demo → core, server → core, cli → core, and nothing else. */
const only = (name, from, to) => ({ name, severity: "error", from: { path: from }, to: { path: "^(packages|apps)/", pathNot: to } });

module.exports = {
  forbidden: [
    { name: "no-circles", severity: "error", from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ["type-only"] } } },
    only("core-alone", "^packages/core/src", "^packages/core/"),
    only("demo-on-core", "^packages/demo/src", "^packages/(demo|core)/"),
    only("server-on-core", "^apps/server/", "^(apps/server|packages/core)/"),
    only("cli-on-core", "^apps/cli/", "^(apps/cli|packages/core)/"),
    only("web-on-demo-and-core", "^apps/web/src", "^(apps/web|packages/(demo|core))/"),
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "(dist|test|fixtures)/" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: { conditionNames: ["kneader-source", "import", "default"], extensions: [".ts", ".tsx", ".mjs", ".js"] },
  },
};
