// Unit tests run in Node; the interface is tested in a real browser (see e2e/).
const swc = (syntax) => [
  "@swc/jest",
  { jsc: { parser: syntax, target: "es2023", transform: { react: { runtime: "automatic" } } }, module: { type: "commonjs" } },
];

export default {
  testEnvironment: "node",
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
  moduleNameMapper: { "^three$": "<rootDir>/node_modules/three/build/three.module.js" },
  maxWorkers: 2,
};
