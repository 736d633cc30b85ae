import { invertAffine } from "../../maths/matrix.ts";
import { type Control, isScenery, type Rig } from "../../model/rig.ts";
import { sideOf, wordsOf } from "../partners.ts";
import { restWorlds } from "../restPlace.ts";
import type { BodySurface, FigureBody } from "./figureBody.ts";
import type { Flesh } from "./flesh.ts";
import { layoutOf } from "../rigLayout.ts";
import { growSkin } from "./growSkin.ts";
import { linearColour } from "./linearColour.ts";

const SKIN = linearColour("#b9a184");
/** Left limbs wear bands and a cuff, so that sides are told apart by form and pattern too. */
const LEFT = linearColour("#a7a98d");
const BAND = linearColour("#5f7568");
const RIGHT = linearColour("#bd9474");
const HARD = linearColour("#8b8378");

/**
 * A body for a rig that has none: soft volumes for trunk, limbs, head, hands and feet, found from names and from what
 * hangs on what, each chain under a skin of its own, so that what rests side by side does not grow together.
 */
export function bodyOf(rig: Rig): FigureBody {
  const { controls } = rig;
  const worlds = restWorlds(rig);
  const inverses = new Float32Array(controls.length * 16);
  const inverse = new Float64Array(16);
  controls.forEach((_, i) => {
    invertAffine(inverse, 0, worlds, i * 16);
    inverses.set(inverse, i * 16);
  });
  const size = sizeOf(rig, worlds);
  const joints = new Map(controls.map(({ id }, i) => [id, i]));
  const choices = { cell: size * 0.0155, soft: size * 0.03, parents: layoutOf(rig).parents };
  const surfaces = chainsOf(rig).map(({ name, parts, isProp }): BodySurface => {
    const flesh = parts.flatMap((control) => fleshOf(control, rig, size));
    return { ...growSkin(name, flesh, joints, worlds, choices), isProp };
  });
  return { controls: controls.map(({ id }) => id), inverses, surfaces: surfaces.filter(({ index }) => index.length > 0) };
}

interface Chain {
  readonly name: string;
  readonly parts: Control[];
  readonly isProp: boolean;
}

/** The trunk with the head, and each sided chain that hangs on it, from its first control down; what is scenery is none of it. */
function chainsOf({ controls }: Rig): Chain[] {
  const own = controls.some((control) => !isScenery(control)) ? controls.filter((control) => !isScenery(control)) : controls;
  const chains = new Map<string, Chain>();
  const chainOf = new Map<string, string>();
  for (const control of own) {
    const above = control.parent === null ? undefined : chainOf.get(control.parent);
    const side = sideOf(control.name);
    const parent = own.find(({ id }) => id === control.parent);
    const begins = above === undefined || (side !== null && parent !== undefined && sideOf(parent.name) !== side);
    const name = begins ? control.id : above;
    chainOf.set(control.id, name);
    const chain = chains.get(name) ?? { name: control.name, parts: [], isProp: control.role === "prop" };
    chain.parts.push(control);
    chains.set(name, chain);
  }
  return [...chains.values()];
}

/** How tall the figure is at rest, or as far as it reaches when it is flat. */
function sizeOf({ controls }: Rig, worlds: Float64Array): number {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  controls.forEach((control, i) => {
    if (isScenery(control) && controls.some((other) => !isScenery(other))) return;
    const [x, y, z] = control.tip ?? [0, 0, 0];
    for (let k = 0; k < 3; k++) {
      const place = worlds[i * 16 + 12 + k];
      const end = place + worlds[i * 16 + k] * x + worlds[i * 16 + 4 + k] * y + worlds[i * 16 + 8 + k] * z;
      low[k] = Math.min(low[k], place, end);
      high[k] = Math.max(high[k], place, end);
    }
  });
  return Math.max(...low.map((value, k) => high[k] - value), 1e-3);
}

/** Thickness of a part as a share of the figure's height: where it begins and where it ends. Proportions of a person, roughly. */
const thickness: readonly (readonly [RegExp, number, number])[] = [
  [/^(head|skull)$/, 0.05, 0.05],
  [/^neck/, 0.036, 0.034],
  [/^sidehip/, 0.05, 0.05],
  [/^(hips?|pelvis|root|spine|waist|abdomen|belly|chest|torso|back|breast|body|lower|upper)$/, 0.07, 0.066],
  [/^(shoulder|collar|clavicle)/, 0.036, 0.036],
  [/^(finger|thumb|index|middle|ring|pinky|digit)/, 0.011, 0.009],
  [/^(hand|wrist|palm)/, 0.024, 0.022],
  [/^(fore|elbow)/, 0.028, 0.02],
  [/^(arm|uparm|humerus)/, 0.034, 0.028],
  [/^(foot|ankle|heel)/, 0.024, 0.022],
  [/^(toe|ball)/, 0.02, 0.017],
  [/^(shin|calf|knee|leg|shank)/, 0.04, 0.026],
  [/^(thigh|upleg|femur)/, 0.05, 0.039],
  [/^tail/, 0.034, 0.026],
  [/^(ear|jaw|eye|nose|beak)/, 0.016, 0.012],
  [/^wing/, 0.03, 0.02],
];

/** Words of a name that say what a part is, the more telling ones first: "left up leg" is a thigh. */
function partWords(name: string): string[] {
  const words = wordsOf(name);
  const joined = words.map((word, i) => (word === "up" || word === "upper" ? word.slice(0, 2) + (words[i + 1] ?? "") : ""));
  const lower =
    words.includes("lower") || words.includes("fore") ? words.map((word) => (word === "arm" ? "fore" : word === "leg" ? "shin" : "")) : [];
  const hip = sideOf(name) !== null && words.includes("hip") ? ["sidehip"] : [];
  return [...hip, ...joined, ...lower, ...words].filter(Boolean);
}

function radiiOf(name: string, length: number, size: number): [number, number] {
  for (const word of partWords(name)) {
    const known = thickness.find(([pattern]) => pattern.test(word));
    if (known) return [known[1] * size, known[2] * size];
  }
  const radius = Math.min(0.035 * size, Math.max(0.012 * size, 0.2 * length));
  return [radius, radius * 0.85];
}

function fleshOf(control: Control, { controls }: Rig, size: number): Flesh[] {
  const { id: name, tip } = control;
  const children = controls.filter(({ parent, role }) => parent === name && (role === control.role || controls.length === 1));
  const side = sideOf(control.name);
  const colour = control.role === "prop" || isScenery(control) ? HARD : side === "left" ? LEFT : side === "right" ? RIGHT : SKIN;
  const words = partWords(control.name);
  const isHead = words.includes("head") || words.includes("skull");
  const ends = children.map(({ rest }) => rest);
  if (ends.length === 0 && tip) ends.push(tip);
  const flesh = ends.flatMap((end): Flesh[] => {
    const length = Math.hypot(...end);
    if (length < size * 2e-3) return [];
    const [from, to] = radiiOf(control.name, length, size);
    const bands = side === "left" ? { bands: { colour: BAND, length: size * 0.058 } } : {};
    return [{ control: name, a: [0, 0, 0], b: end, size: [from, to], colour, ...bands }];
  });
  if (isHead) {
    const up = tip ?? ends[0] ?? [0, size * 0.07, 0];
    const length = Math.hypot(...up) || 1;
    const middle = up.map((value) => (value / length) * size * 0.045) as [number, number, number];
    flesh.push({ control: name, a: middle, size: [size * 0.05, size * 0.062, size * 0.056], colour: SKIN });
  }
  // A cuff where a left hand or foot begins.
  if (side === "left" && words.some((word) => /^(hand|foot|wrist|ankle)/.test(word))) {
    const radius = size * 0.031;
    flesh.push({ control: name, a: [0, 0, 0], size: [radius, radius, radius], colour: BAND });
  }
  if (flesh.length === 0) {
    const [radius] = radiiOf(control.name, size * 0.05, size);
    flesh.push({ control: name, a: [0, 0, 0], size: [radius, radius, radius], colour });
  }
  return flesh;
}
