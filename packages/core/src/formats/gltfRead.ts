import { z } from "zod";
import { findPartners } from "../figure/partners.ts";
import { freshId } from "../model/freshId.ts";
import { rateFromFps } from "../model/shot.ts";
import { emptyShot } from "../model/shotFields.ts";
import type { FilesBeside, Imported } from "./format.ts";
import { type GltfFile, openGltf } from "./gltfFile.ts";
import { readNodes } from "./gltfNodes.ts";
import { readAnimation } from "./gltfTracks.ts";

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

/** Read the nodes and the first animation of a glTF 2.0 file. Times become frames of `fps`. */
export function readGltf(bytes: Uint8Array, name: string, beside?: FilesBeside): Imported {
  const file = openGltf(bytes, beside);
  const notes: string[] = [];
  const made = shotExtras.safeParse(file.json.extras);
  const own = made.success ? made.data.kneader : null;
  const first = own?.firstFrame ?? 1;
  const nodes = readNodes(file.json, first, notes);
  const rate = own?.rate ?? rateFromFps(guessFps(file, notes));
  const motion = readAnimation(file, nodes.controls, nodes.places, rate.num / rate.den, first, notes);
  const controls = own ? motion.controls : findPartners(motion.controls);
  const shot = emptyShot({
    id: freshId("shot"),
    name,
    rig: { id: freshId("rig"), name, controls, figure: own?.figure ?? null },
    rate,
    range: own?.range ?? { start: first, end: Math.max(first, Math.ceil(motion.end)) },
    unitMetres: own ? own.unitMetres : 1,
    set: own?.set ?? null,
    base: { ...nodes.scales, ...motion.curves },
  });
  return { shot, notes };
}

/** Frames a second that put the most key times on whole frames; 24 when none does. */
function guessFps(file: GltfFile, notes: string[]): number {
  const inputs = new Set(file.json.animations?.[0]?.samplers.map((sampler) => sampler.input) ?? []);
  const times = [...inputs].slice(0, 8).flatMap((i) => [...file.accessor(i, ["SCALAR"], "Animation sampler")].slice(0, 200));
  for (const fps of [24, 25, 30, 48, 50, 60, 120])
    if (times.every((s) => Math.abs(s * fps - Math.round(s * fps)) < 0.01)) {
      notes.push(`glTF does not say the frame rate; its key times fit ${fps} frames a second.`);
      return fps;
    }
  notes.push("The key times fit no usual frame rate; 24 frames a second are taken and keys stand between frames.");
  return 24;
}
