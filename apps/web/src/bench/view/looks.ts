/** How the figure is drawn. */
export const looks = [
  { value: "lit", label: "Lit", help: "With light and shade." },
  { value: "flat", label: "Flat", help: "Its colours alone, without shade." },
  { value: "silhouette", label: "Silhouette", help: "One dark shape: what a pose says from afar." },
] as const;

export type Look = (typeof looks)[number]["value"];
