import type { Accessor, Document, Node, TypedArray } from "@gltf-transform/core";
import { fromByteArray } from "base64-js";
import { type Control, FIELD_OF_VIEW, PERCENT } from "../../model/rig.ts";
import { countedWord } from "../../words.ts";
import type { Shot } from "../../model/shot.ts";
import type { BodySurface, FigureBody } from "../../figure/body/figureBody.ts";
import type { Exported, WriteChoices } from "../format.ts";
import { encodeText } from "../utf8.ts";
import { motionOf, type MotionTrack, type ShotMotion } from "./motion.ts";

/**
 * Write the skeleton and its motion as glTF 2.0: a .glb, or a .gltf with its data inside; with the figure's mesh where
 * one is given. Curves whose keys agree are written as STEP, LINEAR or CUBICSPLINE where that loses nothing (rotations:
 * where quaternions keep to the same path); everything else is sampled at every frame.
 */
export async function writeGltf(shot: Shot, binary: boolean, choices: WriteChoices = {}): Promise<Exported> {
  const { controls } = shot.rig;
  const motion = motionOf(shot, {
    controls: choices.controls,
    allSampled: choices.motion === "samples",
    rate: choices.rate,
    progress: choices.progress,
  });
  const { makeDocument, packBinary, packText } = await import("./documents.ts");
  const document = makeDocument();
  document.getRoot().getAsset().generator = "Kneader";
  const buffer = document.createBuffer();
  const nodes = controls.map((control) => nodeOf(document, control, motion.still.get(control.id)));
  const byId = new Map(controls.map(({ id }, i) => [id, nodes[i]]));
  const scene = document.createScene(shot.name);
  controls.forEach(({ parent }, i) => {
    const above = parent === null ? undefined : byId.get(parent);
    if (above) above.addChild(nodes[i]);
    else scene.addChild(nodes[i]);
  });
  document.getRoot().setDefaultScene(scene);
  const { rate, range, unitMetres, set } = shot;
  document.getRoot().setExtras({ kneader: { rate, range, firstFrame: motion.origin, unitMetres, figure: shot.rig.figure, set } });
  putMotion(document, motion, byId, choices.animation ?? shot.name);
  if (choices.body) for (const node of bodyNodes(document, choices.body, byId)) scene.addChild(node);
  if (document.getRoot().listAccessors().length === 0) buffer.dispose();
  return {
    bytes: binary ? await packBinary(document) : encodeText(await packText(document, fromByteArray)),
    notes: [...motion.notes, ...leftOut(shot)],
  };
}

/** What moves that nodes alone have no place for. */
function leftOut(shot: Shot): string[] {
  const shapes = Object.keys(shot.base).filter((key) => key.endsWith(PERCENT));
  return [
    ...(shapes.length > 0
      ? [`${countedWord(shapes.length, "shape")} of a mesh left out: their weights go into the file the character came from.`]
      : []),
    ...lensNote(shot),
  ];
}

/** A camera's field of view cannot change in glTF. */
export function lensNote({ base, passes }: Shot): string[] {
  const keyed = [base, ...passes.map(({ curves }) => curves)].some((curves) =>
    Object.entries(curves).some(([key, { times }]) => key.endsWith(`.${FIELD_OF_VIEW}`) && (curves !== base || times.length > 1)),
  );
  return keyed ? ["The camera's field of view changes in the shot; glTF has no word for that, and it is left as it is in the file."] : [];
}

/** A control as a node; what glTF has no word for stands in its extras. */
function nodeOf(document: Document, control: Control, scale: readonly number[] | undefined): Node {
  const { id, order, role, part, partner, mirror, ranges, channels, tip } = control;
  const node = document
    .createNode(control.name)
    .setTranslation([...control.rest])
    .setRotation([...control.restTurn])
    .setExtras({ kneader: { id, order, role, part, partner, mirror, ranges, channels: [...channels], tip: tip && [...tip] } });
  return scale ? node.setScale([scale[0], scale[1], scale[2]]) : node;
}

function putMotion(document: Document, { tracks }: ShotMotion, nodes: ReadonlyMap<string, Node>, name: string): void {
  if (tracks.length === 0) return;
  const buffer = document.getRoot().listBuffers()[0];
  const animation = document.createAnimation(name);
  const times: { seconds: Float32Array; accessor: Accessor }[] = [];
  const timesOf = (seconds: Float32Array): Accessor => {
    const known = times.find((one) => isSame(one.seconds, seconds));
    if (known) return known.accessor;
    const accessor = document.createAccessor().setType("SCALAR").setArray(seconds).setBuffer(buffer);
    times.push({ seconds, accessor });
    return accessor;
  };
  for (const track of tracks) {
    const output = document.createAccessor().setType(typeOf(track)).setArray(track.values).setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(timesOf(track.seconds)).setOutput(output).setInterpolation(track.kind);
    const node = nodes.get(track.control) ?? null;
    animation.addSampler(sampler);
    animation.addChannel(document.createAnimationChannel().setSampler(sampler).setTargetNode(node).setTargetPath(track.path));
  }
}

export const typeOf = ({ path }: MotionTrack): "VEC4" | "VEC3" | "SCALAR" =>
  path === "rotation" ? "VEC4" : path === "weights" ? "SCALAR" : "VEC3";

/** The same times, number for number. */
export function isSame(a: Float32Array, b: Float32Array): boolean {
  return a.length === b.length && a.every((value, i) => value === b[i]);
}

/** The surfaces that are drawn, each a mesh bound to the nodes of those controls that it moves with. */
function bodyNodes(document: Document, body: FigureBody, nodes: ReadonlyMap<string, Node>): Node[] {
  const buffer = document.getRoot().listBuffers()[0];
  const accessor = (type: "VEC3" | "VEC4" | "MAT4" | "SCALAR", array: TypedArray) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  return body.surfaces.map((surface) => {
    const { name, isLight, colours } = surface;
    const material = document.createMaterial(name).setRoughnessFactor(1).setMetallicFactor(0);
    if (isLight) material.setEmissiveFactor([colours[0], colours[1], colours[2]]);
    const { used, joints } = usedJoints(surface);
    const primitive = document
      .createPrimitive()
      .setMaterial(material)
      .setIndices(accessor("SCALAR", surface.index as Uint32Array<ArrayBuffer>))
      .setAttribute("POSITION", accessor("VEC3", surface.positions as Float32Array<ArrayBuffer>))
      .setAttribute("NORMAL", accessor("VEC3", surface.normals as Float32Array<ArrayBuffer>))
      .setAttribute("COLOR_0", accessor("VEC3", colours as Float32Array<ArrayBuffer>))
      .setAttribute("JOINTS_0", accessor("VEC4", joints))
      .setAttribute("WEIGHTS_0", accessor("VEC4", surface.weights as Float32Array<ArrayBuffer>));
    const inverses = new Float32Array(used.length * 16);
    used.forEach((joint, n) => {
      inverses.set(body.inverses.subarray(joint * 16, joint * 16 + 16), n * 16);
    });
    const skin = document.createSkin(name).setInverseBindMatrices(accessor("MAT4", inverses));
    for (const joint of used) skin.addJoint(nodes.get(body.controls[joint]) as Node);
    return document.createNode(name).setMesh(document.createMesh(name).addPrimitive(primitive)).setSkin(skin);
  });
}

/** The controls that a surface moves with, and its vertices' joints counted among those. */
function usedJoints({ joints, weights }: BodySurface): { used: number[]; joints: Uint16Array<ArrayBuffer> } {
  const used = [...new Set(joints.filter((_, i) => weights[i] > 0))].sort((a, b) => a - b);
  const places = new Map(used.map((joint, n) => [joint, n]));
  return { used, joints: Uint16Array.from(joints, (joint, i) => (weights[i] > 0 ? (places.get(joint) ?? 0) : 0)) };
}
