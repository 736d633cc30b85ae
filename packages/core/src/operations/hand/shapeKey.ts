import { z } from "zod";
import { insertKeyOn, setHandle } from "../../curve/edit.ts";
import { KneaderError } from "../../errors.ts";
import { keyOn } from "../../curve/curve.ts";
import { channelTitle } from "../../model/rig.ts";
import { layerCurves, type Shot, withLayerCurves } from "../../model/shot.ts";
import { byHand } from "./handOperation.ts";

const handle = z.object({
  channel: z.string(),
  /** The frame of the key. */
  frame: z.number(),
  side: z.enum(["in", "out"]),
  slope: z.number(),
  weight: z.number(),
  /** The other side turns along. */
  together: z.boolean(),
});

function curveOf(shot: Shot, layer: string, channel: string) {
  const curve = layerCurves(shot, layer)[channel];
  if (!curve) throw new KneaderError("not-found", `${channelTitle(shot.rig, channel)} has no curve there.`);
  return curve;
}

/** Drag a handle. */
export const dragHandle = byHand<z.infer<typeof handle>>({
  id: "drag-handle",
  title: "Drag a handle",
  help: "Sets the slope and the length of one handle.",
  settings: handle,
  named: true,
  edit(shot, { layer }, { channel, frame, side, slope, weight, together }) {
    const curve = curveOf(shot, layer, channel);
    const next = setHandle(curve, keyOn(curve, frame), side, slope, weight, together);
    return { shot: withLayerCurves(shot, layer, { ...layerCurves(shot, layer), [channel]: next }), summary: "Drag a handle" };
  },
});

const place = z.object({ channel: z.string(), frame: z.number() });

/** A key where a curve was pressed twice; the curve stays what it was. */
export const insertKeyByHand = byHand<z.infer<typeof place>>({
  id: "insert-key",
  title: "Key on a curve",
  help: "Puts a key on a curve that keeps its shape.",
  settings: place,
  named: true,
  edit(shot, { layer }, { channel, frame }) {
    const curve = curveOf(shot, layer, channel);
    const next = insertKeyOn(curve, frame);
    const isWithin = frame > curve.times[0] && frame < curve.times[curve.times.length - 1];
    const isTwo = isWithin && next.times.length > curve.times.length + 1;
    const beside = isTwo ? ", and one between the long handles beside it" : "";
    const summary = `Key on ${channelTitle(shot.rig, channel)} at ${frame}${beside}`;
    return { shot: withLayerCurves(shot, layer, { ...layerCurves(shot, layer), [channel]: next }), summary };
  },
});
