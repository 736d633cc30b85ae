import { z } from "zod";
import { findPartners } from "../../figure/partners.ts";
import { freshId } from "../../model/freshId.ts";
import { rateFromFps } from "../../model/rate.ts";
import { emptyShot } from "../../model/shotFields.ts";
import { countedWord } from "../../words.ts";
import type { AnimationListed, Imported, ReadChoices, ShotFile } from "../format.ts";
import { hashOf } from "../hashOf.ts";
import { type GltfFile, openGltf } from "./gate.ts";
import { nodeOrder, type PlacedNode, readNodes } from "./nodes.ts";
import { type Numbers, readNumbers } from "./numbers.ts";
import { checkPictures } from "./pictures.ts";
import { apartBy, bindStandings, bindWanted, type RestChoice, type Standing, standingOf } from "./rest.ts";
import { checkSkins } from "./skins.ts";
import { selfContained } from "./selfContained.ts";
import { readAnimation, tracksWanted } from "./tracks.ts";

const shotExtras = z.object({
  kneader: z.object({
    rate: z.object({ num: z.number().positive(), den: z.number().positive() }),
    range: z.object({ start: z.number(), end: z.number() }),
    firstFrame: z.number(),
    unitMetres: z.number().nullable(),
    figure: z.string().nullable(),
    set: z.string().nullable(),
  }),
});

/**
 * Read the nodes and one animation of a glTF 2.0 file; the shot keeps the file as its asset. Times become frames.
 * Errors: `gltf-syntax`, `gltf-data`, `file-too-large`.
 */
export async function readGltf(given: ShotFile, choices: ReadChoices = {}): Promise<Imported> {
  const { bytes, name, beside } = given;
  const file = openGltf(bytes, beside);
  const { json } = file;
  const notes: string[] = [];
  const animation = json.animations?.[choices.animation ?? 0];
  const order = nodeOrder(json);
  const numbers = await readNumbers(file, [...tracksWanted(file, animation), ...inputsWanted(file), ...bindWanted(file)]);
  const made = shotExtras.safeParse(json.extras);
  const own = made.success ? made.data.kneader : null;
  const first = own?.firstFrame ?? 1;
  const animated = new Set((json.animations ?? []).flatMap(({ channels }) => channels.map(({ target }) => target.node)));
  const rests = restsOf(file, numbers, order, choices, own ? [] : notes);
  const nodes = readNodes(file, order, rests, animated as Set<number>, notes);
  sayTwins(nodes.controls, notes);
  const rate = own?.rate ?? rateFromFps(guessFps(file, numbers, notes));
  const motion = readAnimation(animation, numbers, nodes, rate.num / rate.den, first, notes);
  const count = json.animations?.length ?? 0;
  if (count > 1 && choices.animation === undefined) notes.push(`The file has ${countedWord(count, "animation")}; the first one was read.`);
  const controls = own ? motion.controls : findPartners(motion.controls);
  const isDrawn = (json.meshes?.length ?? 0) > 0;
  if (!json.meshes && file.whole.meshes)
    notes.push("Its meshes are not as they should be: the figure is drawn as a plain body, and they are kept as they are.");
  notes.push(...checkPictures(file, beside), ...(await checkSkins(file)));
  const asset = selfContained(file, bytes, beside);
  const hash = await hashOf(asset);
  const shot = emptyShot({
    id: freshId("shot"),
    name: count > 1 && animation?.name ? `${name} – ${animation.name}` : name,
    rig: { id: `rig-${hash.slice(0, 16)}`, name, controls, figure: isDrawn ? null : (own?.figure ?? null) },
    rate,
    range: own?.range ?? { start: first, end: Math.max(first, Math.ceil(motion.end)) },
    unitMetres: own ? own.unitMetres : 1,
    set: own?.set ?? null,
    base: motion.curves,
    asset: {
      hash,
      name: `${name}${file.isBinary ? ".glb" : ".gltf"}`,
      bytes: asset.length,
      isDrawn,
      animation: animation ? (choices.animation ?? 0) : null,
      animationName: animation?.name ?? null,
      firstFrame: first,
      nodes: Object.fromEntries([...nodes.places].map(([node, at]) => [nodes.controls[at].id, node])),
      shapes: nodes.shapes,
    },
  });
  return { shot, notes, asset };
}

/** What animations a file has, without making a shot of any. Errors as those of `readGltf`. */
export async function listAnimations({ bytes, beside }: ShotFile): Promise<AnimationListed[]> {
  const file = openGltf(bytes, beside);
  nodeOrder(file.json);
  const numbers = await readNumbers(file, inputsWanted(file));
  const lastOf = (input: number): number => {
    const said = file.json.accessors?.[input]?.max?.[0];
    return numbers.get(input)?.at(-1) ?? (typeof said === "number" && Number.isFinite(said) ? said : 0);
  };
  return (file.json.animations ?? []).map(({ name, channels, samplers }, i) => ({
    name: name?.trim() || `Animation ${i + 1}`,
    seconds: samplers.reduce((most, { input }) => Math.max(most, lastOf(input)), 0),
    tracks: channels.length,
  }));
}

/** Do the rest poses that can be chosen differ? By name, those that are not as the nodes stand. Errors as those of `readGltf`. */
export async function listRests({ bytes, beside }: ShotFile, animation = 0): Promise<RestChoice[]> {
  const file = openGltf(bytes, beside);
  const order = nodeOrder(file.json);
  // What was written here rests as its controls do.
  if (shotExtras.safeParse(file.json.extras).success) return ["nodes"];
  const numbers = await readNumbers(file, [...tracksWanted(file, file.json.animations?.[animation]), ...bindWanted(file)]);
  return (["nodes", "bind", "first"] as const).filter(
    (rest) => rest === "nodes" || differs(file, standingsFor(file, numbers, order, { animation, rest })),
  );
}

function differs({ json }: GltfFile, standings: readonly Standing[]): boolean {
  return (json.nodes ?? []).some((node, i) => apartBy(standingOf(node), standings[i]) > 1e-3);
}

function restsOf(file: GltfFile, numbers: Numbers, order: readonly PlacedNode[], choices: ReadChoices, notes: string[]): Standing[] | null {
  if (choices.rest !== undefined && choices.rest !== "nodes") return standingsFor(file, numbers, order, choices);
  if (differs(file, bindStandings(file, numbers, order)))
    notes.push("Its nodes do not stand in the pose its skin was bound in; the rest pose is as the nodes stand.");
  return null;
}

function standingsFor(file: GltfFile, numbers: Numbers, order: readonly PlacedNode[], { animation = 0, rest }: ReadChoices): Standing[] {
  if (rest === "bind") return bindStandings(file, numbers, order);
  const { json } = file;
  const standings = (json.nodes ?? []).map(standingOf);
  const clip = json.animations?.[animation];
  for (const { sampler, target } of clip?.channels ?? []) {
    const { node, path } = target;
    const given = clip?.samplers[sampler];
    const values = given && numbers.get(given.output);
    if (node === undefined || !values || rest !== "first" || !(path === "rotation" || path === "translation" || path === "scale")) continue;
    const width = path === "rotation" ? 4 : 3;
    const at = given.interpolation === "CUBICSPLINE" ? width : 0;
    const value = [...values.slice(at, at + width)];
    const length = path === "rotation" ? Math.hypot(...value) || 1 : 1;
    if (value.length === width) standings[node] = { ...standings[node], [path]: value.map((part) => part / length) };
  }
  return standings;
}

/** Nodes of one name are told apart by a number. */
function sayTwins(controls: readonly { id: string; name: string }[], notes: string[]): void {
  const names = new Map<string, number>();
  for (const { name } of controls) names.set(name, (names.get(name) ?? 0) + 1);
  const twins = [...names].filter(([, count]) => count > 1);
  if (twins.length > 0)
    notes.push(
      `${twins
        .slice(0, 3)
        .map(([name, count]) => `${count} nodes are named "${name}"`)
        .join(", ")}${twins.length > 3 ? ` (and ${twins.length - 3} more names)` : ""}; a number behind the id tells them apart.`,
    );
}

/** The times of every animation: the frame rate is told by them, and is the same for all. */
const inputsWanted = ({ json }: GltfFile) =>
  [...new Set((json.animations ?? []).flatMap(({ samplers }) => samplers.map(({ input }) => input)))].slice(0, 64).map((accessor) => ({
    accessor,
    types: ["SCALAR"],
    what: "Animation sampler",
  }));

/** Frames a second that put the most key times on whole frames; 24 when none does. */
function guessFps(file: GltfFile, numbers: Numbers, notes: string[]): number {
  const times = inputsWanted(file)
    .slice(0, 8)
    .flatMap(({ accessor }) => [...(numbers.get(accessor) ?? [])].slice(0, 200));
  for (const fps of [24, 25, 30, 48, 50, 60, 120])
    if (times.every((s) => Math.abs(s * fps - Math.round(s * fps)) < 0.01)) {
      notes.push(`glTF does not say the frame rate; its key times fit ${fps} frames a second.`);
      return fps;
    }
  notes.push("The key times fit no usual frame rate; 24 frames a second are taken and keys stand between frames.");
  return 24;
}
