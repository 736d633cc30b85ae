import { z } from "zod";
import { type Switch, spaceOf, switchesOf } from "../../constraints/spaces.ts";
import { inPieces } from "../../inPieces.ts";
import { measureDriftInPieces } from "../../evaluate/drift.ts";
import { KneaderError } from "../../errors.ts";
import { channelKey, channelTitle, type Control, transformChannels } from "../../model/rig.ts";
import type { FrameRange, Shot } from "../../model/shot.ts";
import { listed } from "../../words.ts";
import type { Context, Operation } from "../operation.ts";
import { outcome } from "../shared/scope.ts";
import { fewestKeys, fewestSettings } from "./fewestKeys.ts";
import { respace } from "./respace.ts";
import { IN_WORLD, pickedBut, spaceMeant, spaceName, spaceSetting, targetPicked } from "./spaceSetting.ts";

const settings = z.object({
  space: spaceSetting("Lives in", IN_WORLD, "What it moves relative to from that frame on: the world, what it hangs on, or any control."),
  frame: z.number().min(-1e6).max(1e6).default(1).meta({ title: "From frame", unit: "frame", step: 1 }),
  keys: z
    .enum(["own", "every", "fewest", "values"])
    .default("own")
    .meta({
      title: "Its keys from there",
      labels: {
        own: "Keep their poses, on their frames",
        every: "On every frame, the motion as it was",
        fewest: "Fewest that keep the motion",
        values: "Keep their values; it moves",
      },
      help: "Between keys on their own frames the motion may differ, as it is drawn in another space; the drift says by how much.",
    }),
  ...fewestSettings,
});
type Settings = z.infer<typeof settings>;

/** Let controls live in another space from a frame on, their pose kept. */
export const switchSpace: Operation<Settings> = {
  id: "switch-space",
  title: "Switch space",
  group: "Spaces",
  help: "From a frame on the picked control moves relative to something else: a hand, a prop, the ferry, the world. Its pose there stays.",
  guide: {
    use: "A lantern goes from a hand to a hook; a passenger stands on a ferry that rocks. Each span is animated in the space that makes it easy.",
    watch:
      "One frame before the switch the old space still rules, and the control holds there until the switch. Pick the control, then what it is to live in.",
  },
  words: "parent world local dynamic attach put hand prop hold pick up put down hook ferry root camera detach release hand over",
  suits: ["picked controls"],
  leaves: ["layer", "range"],
  needs: ["picked controls"],
  saysRounds: true,
  settings,
  situation: (at) => ({ frame: at.frame, ...(targetPicked(at) === null ? {} : { space: targetPicked(at) as string }) }),
  async run(shot, scope, s, context) {
    const followers = pickedBut(shot, scope, s.space, "Switch space");
    let after = shot;
    for (const [n, control] of followers.entries()) {
      const space = spaceMeant(shot, control, s.space);
      const switches = switchesOf(after, control.id);
      if (spaceOf(switches, s.frame) === space && switches.every(({ frame }) => Math.abs(frame - s.frame) > 1e-6))
        throw new KneaderError(
          "bad-setting",
          `${control.name} lives in ${sayThe(shot, space)} at frame ${s.frame} already.`,
          "Choose another space, or another frame.",
        );
      refuseLocked(shot, control);
      const span = (share: number) => context.breathe((0.8 * (n + share)) / followers.length);
      after = await switched(after, control, withSwitch(shot, switches, s.frame, space), s, { ...context, breathe: span });
    }
    const drift = context.firstLook
      ? null
      : await measureDriftInPieces(shot, after, shot.range, (share) => context.breathe(0.8 + 0.2 * share));
    const names = listed(followers.map(({ name }) => name));
    const [first] = followers;
    const where = spaceName(shot, spaceMeant(shot, first, s.space));
    return outcome(shot, after, `Switched ${names} to ${where} at frame ${s.frame}`, { drift });
  },
};

/** One more switch; at the first frame of the shot it holds from the beginning. */
function withSwitch(shot: Shot, switches: readonly Switch[], frame: number, space: string | null): Switch[] {
  if (frame > shot.range.start + 1e-6) return [...switches, { frame, space }];
  return [{ frame: Number.NEGATIVE_INFINITY, space }, ...switches.filter((one) => one.frame > frame + 1e-6)];
}

/** A control with other switches, its keys as the settings say. */
async function switched(
  shot: Shot,
  control: Control,
  switches: readonly Switch[],
  s: Pick<Settings, "keys" | "rotation" | "move">,
  context: Context,
): Promise<Shot> {
  const how = s.keys === "fewest" ? "every" : s.keys;
  const after = await inPieces(respace(shot, control.id, switches, how), (share) => context.breathe(share));
  if (s.keys !== "fewest") return after;
  const channels = transformChannels.map((channel) => channelKey(control.id, channel));
  let fewer = after;
  for (const range of changedSpans(shot, after, control.id)) fewer = await fewestKeys(fewer, channels, range, s, context);
  return fewer;
}

/** The spans in which a control lives elsewhere in two states of a shot, up to the frame before the one that is held. */
function changedSpans(before: Shot, after: Shot, control: string): FrameRange[] {
  const [was, will] = [switchesOf(before, control), switchesOf(after, control)];
  const starts = [
    ...new Set([after.range.start, ...was.slice(1).map(({ frame }) => frame), ...will.slice(1).map(({ frame }) => frame)]),
  ].sort((a, b) => a - b);
  return starts.flatMap((start, i) => {
    const end = i + 1 < starts.length ? starts[i + 1] - 2 : after.range.end;
    return spaceOf(was, start) !== spaceOf(will, start) && end > start ? [{ start, end }] : [];
  });
}

/** Refuse to tell a locked channel anew. Errors: `locked`. */
export function refuseLocked(shot: Shot, control: Control): void {
  const held = transformChannels.map((channel) => channelKey(control.id, channel)).find((key) => shot.locked.includes(key));
  if (held !== undefined)
    throw new KneaderError("locked", `${channelTitle(shot.rig, held)} is locked, and its keys would be told anew.`, "Unlock it first.");
}

const sayThe = (shot: Shot, space: string | null) => (space === null ? "the world" : `the space of ${spaceName(shot, space)}`);
