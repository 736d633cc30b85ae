import { KneaderError } from "../../errors.ts";
import type { Shot, ShotAsset } from "../../model/shot.ts";
import { countedWord, listed } from "../../words.ts";
import type { Exported, WriteChoices } from "../format.ts";
import { hashOf } from "../hashOf.ts";
import { encodeText } from "../utf8.ts";
import { toGlb } from "./container.ts";
import { FreedParts } from "./freedParts.ts";
import { type GltfFile, openGltf } from "./gate.ts";
import { motionOf, type MotionTrack } from "./motion.ts";
import { nodeOrder } from "./nodes.ts";
import { OldAnimation } from "./oldAnimation.ts";
import { standingOf } from "./rest.ts";
import { isSame, lensNote, typeOf } from "./write.ts";

/** A part of a file as it stands, with all that is not known here. */
type Part = Record<string, unknown>;

/**
 * The file a shot's character came from with the shot's motion in it, in place of the animation it began with or beside
 * it. Everything else is handed back as it came: every other byte of data stands where it stood, and the JSON is the
 * same but for the animation, its accessors and its buffer views. Errors: `no-asset`, those of reading glTF.
 */
export async function putBack(shot: Shot, choices: WriteChoices): Promise<Exported> {
  const { asset } = shot;
  if (!asset || !choices.asset)
    throw new KneaderError(
      "no-asset",
      "The file this character came from is not here.",
      "Export the whole scene, or hand that file over again.",
    );
  if ((await hashOf(choices.asset)) !== asset.hash)
    throw new KneaderError("no-asset", `The file given is not the one this character came from ("${asset.name}").`);
  const file = openGltf(choices.asset);
  const under = parentsInFile(shot, asset, file);
  const rigged = new Set(shot.rig.controls.map(({ id }) => id));
  const inFile = Object.keys(asset.nodes).filter((id) => rigged.has(id));
  const meant = choices.controls ? inFile.filter((id) => choices.controls?.includes(id)) : inFile;
  const motion = motionOf(shot, {
    controls: meant,
    allSampled: choices.motion === "samples",
    rate: choices.rate,
    progress: choices.progress,
    under,
    shapes: asset.shapes,
    origin: asset.firstFrame,
  });
  const old = new OldAnimation(file, asset, choices, meant);
  const moving = [...motion.tracks, ...stillTracks(shot, meant, motion.still)].filter(
    (track) => old.moves(asset.nodes[track.control], track.path) || !isAsItStands(track, asset, file),
  );
  const tracks = [...moving, ...old.resting(shot.rig.controls, asset, moving)];
  const name = choices.animation ?? (choices.adds ? null : asset.animationName) ?? shot.name;
  const { json, data } = withAnimation(file, asset, old, tracks, name);
  const strange = shot.rig.controls.filter(({ id }) => asset.nodes[id] === undefined).map(({ name }) => name);
  const notes = [
    ...motion.notes,
    ...lensNote(shot),
    ...(strange.length > 0
      ? [
          `${countedWord(strange.length, "control")} not in the file (${listed(strange.slice(0, 4))}); what ${strange.length === 1 ? "it moves" : "they move"} is written with the moved controls.`,
        ]
      : []),
    ...(motion.origin < asset.firstFrame
      ? [`The motion begins at frame ${motion.origin}, before second 0 of the file; frame ${motion.origin} is second 0 now.`]
      : []),
  ];
  return { bytes: file.isBinary ? toGlb(json, data) : encodeText(JSON.stringify(json)), notes };
}

/** Controls that hang elsewhere in the shot than in the file are written in the space of what they hang on there. */
function parentsInFile(shot: Shot, { nodes }: ShotAsset, { json }: GltfFile): Map<string, string | null> {
  const byNode = new Map(Object.entries(nodes).map(([id, node]) => [node, id]));
  const under = new Map<string, string | null>();
  const above = new Map(nodeOrder(json).map(({ i, parent }) => [i, parent]));
  for (const { id, parent } of shot.rig.controls) {
    if (nodes[id] === undefined) continue;
    const node = above.get(nodes[id]) ?? null;
    const wanted = node === null ? null : (byNode.get(node) ?? null);
    if (wanted !== parent) under.set(id, wanted);
  }
  return under;
}

/** Scales that never change, as tracks of one key. */
function stillTracks(shot: Shot, meant: readonly string[], still: ReadonlyMap<string, readonly number[]>): MotionTrack[] {
  const wanted = new Set(meant);
  return shot.rig.controls.flatMap(({ id }): MotionTrack[] => {
    const scale = still.get(id);
    if (!scale || !wanted.has(id)) return [];
    return [{ control: id, path: "scale", kind: "STEP", seconds: Float32Array.of(0), values: Float32Array.from(scale) }];
  });
}

/** One key that says what the node says anyway? */
function isAsItStands({ control, path, values, seconds }: MotionTrack, { nodes }: ShotAsset, { json }: GltfFile): boolean {
  const node = json.nodes?.[nodes[control]];
  if (!node || seconds.length !== 1) return false;
  const standing = standingOf(node);
  const mesh = node.mesh === undefined ? undefined : json.meshes?.[node.mesh];
  const own = path === "weights" ? (node.weights ?? mesh?.weights ?? [...values].map(() => 0)) : standing[path];
  const sign = path === "rotation" && values.reduce((sum, value, k) => sum + value * own[k], 0) < 0 ? -1 : 1;
  return own.length === values.length && own.every((value, k) => Math.abs(value - sign * values[k]) < 1e-6);
}

/** The file's JSON and data with an animation put into them. */
function withAnimation(
  file: GltfFile,
  asset: ShotAsset,
  old: OldAnimation,
  tracks: readonly MotionTrack[],
  name: string,
): { json: Part; data: Uint8Array } {
  const animations = [...((file.whole.animations as Part[] | undefined) ?? [])];
  const stay = old.staying();
  const parts = new FreedParts(file, old.at, stay.samplers);
  const { blocks, places } = blocksOf(tracks, parts.accessorCount);
  const { json, data, numbers } = parts.filledWith(blocks);
  const animation = {
    ...old.whole,
    name,
    channels: [
      ...stay.channels,
      ...tracks.map(({ control, path }, n) => ({ sampler: stay.samplers.length + n, target: { node: asset.nodes[control], path } })),
    ],
    samplers: [
      ...stay.samplers,
      ...tracks.map(({ kind }, n) => ({ input: numbers[places[n].input], output: numbers[places[n].output], interpolation: kind })),
    ],
  };
  // An animation may not be empty: with nothing that moves there is none.
  if (animation.channels.length === 0) {
    if (old.at !== null) animations.splice(old.at, 1);
  } else if (old.at === null) animations.push(animation);
  else animations[old.at] = animation;
  const moved = new Set(tracks.map(({ control }) => asset.nodes[control]));
  const nodes = ((json.nodes as Part[] | undefined) ?? []).map((node, i) => (moved.has(i) ? withoutMatrix(node) : node));
  const { animations: _old, ...rest } = json;
  return { json: { ...rest, nodes, ...(animations.length > 0 ? { animations } : {}) }, data };
}

/**
 * The numbers of tracks as blocks, and by track which of them are its times and its values. Equal times are one block,
 * as long as there are as many blocks as accessors that would otherwise be left without use.
 */
function blocksOf(
  tracks: readonly MotionTrack[],
  atLeast: number,
): { blocks: { values: Float32Array; type: string }[]; places: { input: number; output: number }[] } {
  const blocks: { values: Float32Array; type: string }[] = [];
  const put = (values: Float32Array, type: string) => blocks.push({ values, type }) - 1;
  const times: { seconds: Float32Array; block: number }[] = [];
  const known = ({ seconds }: MotionTrack) => times.find((one) => isSame(one.seconds, seconds));
  for (const { seconds } of tracks) if (!times.some((one) => isSame(one.seconds, seconds))) times.push({ seconds, block: -1 });
  let spare = atLeast - tracks.length - times.length;
  const places = tracks.map((track) => {
    const shared = known(track) as (typeof times)[number];
    const isOwn = shared.block >= 0 && spare > 0;
    if (isOwn) spare--;
    if (isOwn || shared.block < 0) shared.block = put(track.seconds, "SCALAR");
    return { input: shared.block, output: put(track.values, typeOf(track)) };
  });
  return { blocks, places };
}

/** An animated node may not have a matrix (glTF 2.0, section 3.5.3): the same as place, turn and scale. */
function withoutMatrix(node: Part): Part {
  if (!node.matrix) return node;
  const { matrix: _matrix, ...rest } = node;
  const { translation, rotation, scale } = standingOf(node);
  return { ...rest, translation, rotation, scale };
}
