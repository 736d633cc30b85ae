/** How view and rack share the window; each remembers its own splitters. */
export const layouts = [
  { value: "balanced", label: "Balanced", help: "The figure and the trays, side by side." },
  { value: "look", label: "Look", help: "The figure takes nearly all; beside it ruler, poses and passes." },
  { value: "shape", label: "Shape", help: "The trays take nearly all; the figure stays in a corner." },
] as const;

export type Layout = (typeof layouts)[number]["value"];
