/** The floors of core, the lowest first: a file imports from its own floor and from those below it. */
const floors = [
  "words",
  "errors",
  "inPieces",
  "maths",
  "curve",
  "model",
  "figure",
  "passes",
  "constraints",
  "evaluate",
  "tune",
  "actions",
  "capture",
  "formats",
  "operations",
  "recipe",
];

/** The rooms of operations in the same way: what several share lies lowest. The catalogue and what runs operations stand above all. */
const rooms = ["shared", "loops", "poses", "values", "clean", "spaces", "passes", "physics", "performance", "tune", "timing", "actions"];

module.exports = { floors, rooms };
