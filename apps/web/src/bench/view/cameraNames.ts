/** From where the figure is seen. */
export const cameras = [
  { value: "shot", label: "Shot" },
  { value: "front", label: "Front" },
  { value: "side", label: "Side" },
  { value: "free", label: "Free" },
] as const;

export type CameraName = (typeof cameras)[number]["value"];
