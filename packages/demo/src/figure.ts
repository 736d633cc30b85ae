/** One solid of the drawn figure, in a control's own frame (metres). */
export interface Solid {
  readonly control: string;
  /** A rounded, tapered limb from a to b, or a ball at a with three radii. */
  readonly shape: "limb" | "ball" | "cone" | "ring";
  readonly a: readonly [number, number, number];
  readonly b?: readonly [number, number, number];
  /** Radii: at a and b of a limb or cone; of a ball per axis; ring and tube. */
  readonly size: readonly number[];
  readonly colour: string;
  /** Gives light of its own. */
  readonly glow?: boolean;
  /** Soft: it runs into what is soft beside it, under one skin. */
  readonly isFlesh?: boolean;
}

const fur = "#8a5a3b";
const furDark = "#6d442c";
const cream = "#e2c49c";
const nose = "#2f2320";
const cap = "#b8473a";
const capBand = "#f2e6d2";
const gold = "#e3ab3f";
const iron = "#3d3532";

const sides = (make: (side: "left" | "right", sign: number) => Solid[]): Solid[] => [...make("left", 1), ...make("right", -1)];

/** The otter, his cap and his lantern. */
export const otterSolids: readonly Solid[] = [
  { control: "hips", shape: "ball", a: [0, 0.02, 0.0], size: [0.15, 0.145, 0.14], colour: fur, isFlesh: true },
  { control: "belly", shape: "ball", a: [0, 0.04, 0.005], size: [0.148, 0.16, 0.138], colour: fur, isFlesh: true },
  { control: "belly", shape: "ball", a: [0, 0.04, 0.035], size: [0.112, 0.165, 0.118], colour: cream, isFlesh: true },
  { control: "hips", shape: "ball", a: [0, 0.0, 0.035], size: [0.1, 0.11, 0.112], colour: cream, isFlesh: true },
  { control: "chest", shape: "ball", a: [0, 0.05, 0], size: [0.13, 0.135, 0.115], colour: fur, isFlesh: true },
  { control: "chest", shape: "ball", a: [0, 0.03, 0.03], size: [0.094, 0.13, 0.098], colour: cream, isFlesh: true },
  { control: "neck", shape: "limb", a: [0, -0.06, 0], b: [0, 0.07, 0.01], size: [0.098, 0.088], colour: fur, isFlesh: true },
  { control: "head", shape: "ball", a: [0, 0.055, 0.015], size: [0.112, 0.098, 0.108], colour: fur, isFlesh: true },
  { control: "head", shape: "ball", a: [0, 0.025, 0.085], size: [0.07, 0.052, 0.062], colour: cream, isFlesh: true },
  { control: "head", shape: "ball", a: [0, 0.045, 0.145], size: [0.026, 0.02, 0.018], colour: nose },
  { control: "jaw", shape: "ball", a: [0, -0.02, 0.02], size: [0.05, 0.026, 0.052], colour: cream, isFlesh: true },
  { control: "neck", shape: "ball", a: [0, 0.02, 0.045], size: [0.066, 0.09, 0.06], colour: cream, isFlesh: true },
  { control: "cap", shape: "ball", a: [0, -0.008, 0.0], size: [0.107, 0.068, 0.107], colour: cap },
  { control: "cap", shape: "cone", a: [0, 0.01, -0.005], b: [0, 0.085, -0.035], size: [0.09, 0.014], colour: cap },
  { control: "cap", shape: "ring", a: [0, -0.022, 0.002], size: [0.104, 0.021], colour: capBand },
  { control: "tassel-1", shape: "limb", a: [0, 0, 0], b: [0, -0.03, -0.055], size: [0.011, 0.009], colour: cap },
  { control: "tassel-2", shape: "limb", a: [0, 0, 0], b: [0, -0.05, -0.02], size: [0.01, 0.008], colour: cap },
  { control: "tassel-2", shape: "ball", a: [0, -0.062, -0.026], size: [0.027, 0.029, 0.027], colour: gold },
  { control: "tail-1", shape: "limb", a: [0, 0.02, 0.03], b: [0, -0.09, -0.13], size: [0.112, 0.092], colour: fur, isFlesh: true },
  { control: "tail-2", shape: "limb", a: [0, 0, 0], b: [0, -0.08, -0.13], size: [0.092, 0.07], colour: fur, isFlesh: true },
  { control: "tail-3", shape: "limb", a: [0, 0, 0], b: [0, -0.05, -0.13], size: [0.07, 0.05], colour: fur, isFlesh: true },
  { control: "tail-4", shape: "limb", a: [0, 0, 0], b: [0, -0.03, -0.13], size: [0.05, 0.02], colour: furDark, isFlesh: true },
  ...sides((side, sign) => [
    { control: "head", shape: "ball", a: [sign * 0.048, 0.078, 0.098], size: [0.017, 0.02, 0.013], colour: nose },
    { control: "head", shape: "ball", a: [sign * 0.044, 0.085, 0.109], size: [0.006, 0.006, 0.005], colour: "#ffffff" },
    { control: `ear-${side}`, shape: "ball", a: [sign * 0.012, 0.008, 0], size: [0.03, 0.032, 0.018], colour: furDark },
    { control: `ear-${side}`, shape: "ball", a: [sign * 0.013, 0.006, 0.009], size: [0.018, 0.02, 0.013], colour: cream },
    { control: `shoulder-${side}`, shape: "ball", a: [sign * 0.055, -0.012, 0], size: [0.066, 0.066, 0.064], colour: fur, isFlesh: true },
    {
      control: `upper-arm-${side}`,
      shape: "limb",
      a: [0, 0, 0],
      b: [sign * 0.03, -0.12, 0],
      size: [0.05, 0.042],
      colour: fur,
      isFlesh: true,
    },
    {
      control: `forearm-${side}`,
      shape: "limb",
      a: [0, 0, 0],
      b: [sign * 0.005, -0.105, 0.01],
      size: [0.043, 0.034],
      colour: furDark,
      isFlesh: true,
    },
    { control: `hand-${side}`, shape: "ball", a: [0, -0.018, 0.004], size: [0.032, 0.036, 0.032], colour: furDark, isFlesh: true },
    { control: `thumb-${side}`, shape: "limb", a: [0, 0, 0], b: [-sign * 0.006, -0.016, 0.012], size: [0.012, 0.01], colour: furDark },
    ...[1, 2, 3].flatMap((finger): Solid[] => [
      { control: `finger-${finger}-${side}`, shape: "limb", a: [0, 0, 0], b: [0, -0.02, 0.003], size: [0.013, 0.012], colour: furDark },
      { control: `finger-${finger}-tip-${side}`, shape: "limb", a: [0, 0, 0], b: [0, -0.018, 0.002], size: [0.012, 0.01], colour: furDark },
    ]),
    {
      control: `thigh-${side}`,
      shape: "limb",
      a: [0, 0.0, 0.0],
      b: [sign * 0.01, -0.12, 0.022],
      size: [0.084, 0.06],
      colour: fur,
      isFlesh: true,
    },
    { control: `shin-${side}`, shape: "limb", a: [0, 0, 0], b: [0, -0.13, -0.024], size: [0.056, 0.04], colour: furDark, isFlesh: true },
    {
      control: `foot-${side}`,
      shape: "limb",
      a: [0, -0.012, -0.018],
      b: [0, -0.022, 0.07],
      size: [0.04, 0.036],
      colour: furDark,
      isFlesh: true,
    },
    { control: `toes-${side}`, shape: "ball", a: [0, 0.005, 0.025], size: [0.046, 0.026, 0.048], colour: furDark, isFlesh: true },
  ]),
  { control: "lantern", shape: "ring", a: [0, 0.0, 0], size: [0.026, 0.005], colour: iron },
  { control: "lantern-body", shape: "cone", a: [0, -0.045, 0], b: [0, -0.012, 0], size: [0.044, 0.01], colour: iron },
  { control: "lantern-body", shape: "ball", a: [0, -0.088, 0], size: [0.036, 0.044, 0.036], colour: "#ffd978", glow: true },
  { control: "lantern-body", shape: "cone", a: [0, -0.145, 0], b: [0, -0.125, 0], size: [0.044, 0.04], colour: iron },
];
