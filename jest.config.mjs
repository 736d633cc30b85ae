// Unit tests run in Node; the interface is tested in a real browser (see e2e/).
const swc = (syntax) => [
  "@swc/jest",
  { jsc: { parser: syntax, target: "es2023", transform: { react: { runtime: "automatic" } } }, module: { type: "commonjs" } },
];

export default {
  testEnvironment: "node",
  globalSetup: "<rootDir>/scripts/unitSetup.mjs",
  testMatch: ["<rootDir>/{packages,apps}/*/test/**/*.test.ts"],
  testEnvironmentOptions: { customExportConditions: ["kneader-source", "require", "default"] },
  transform: {
    "\\.tsx$": swc({ syntax: "typescript", tsx: true }),
    "\\.ts$": swc({ syntax: "typescript" }),
    "\\.m?js$": swc({ syntax: "ecmascript" }),
  },
  // Packages that ship only modules of the newer kind.
  transformIgnorePatterns: [
    "/node_modules/(?!(three|d3-.*|internmap|bezier-easing|comlink|@gltf-transform|property-graph|ktx-parse|meshoptimizer|@noble)/)",
  ],
  // Tests run in a context of their own, in which what is global is looked up slowly: what is used most is handed in.
  sandboxInjectedGlobals: ["Math", "Float64Array", "Float32Array", "Int32Array", "Uint32Array", "Uint16Array"],
  moduleNameMapper: { "^three$": "<rootDir>/node_modules/three/build/three.module.js" },
  maxWorkers: 2,
  // On a machine that does much else at once a test of milliseconds waits for seconds.
  testTimeout: 30_000,
};
