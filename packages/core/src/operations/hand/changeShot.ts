import { z } from "zod";
import { markColours, type Shot } from "../../model/shot.ts";
import { framesPerSecond } from "../../model/rate.ts";
import { byHand } from "./handOperation.ts";
import { countedWord } from "../../words.ts";

const name = z.string().trim().min(1).max(200);
const channels = z.array(z.string());
const settings = z.union([
  z.strictObject({ name }),
  z.strictObject({ range: z.object({ start: z.number(), end: z.number() }) }),
  z.strictObject({ rate: z.object({ num: z.number().positive(), den: z.number().positive() }) }),
  z.strictObject({ cyclic: z.boolean() }),
  z.strictObject({ lock: channels }),
  z.strictObject({ unlock: channels }),
  z.strictObject({ keepSet: z.object({ name, channels }) }),
  z.strictObject({ removeSet: z.string() }),
  /** Without a name and a colour the mark of a pose goes. */
  z.strictObject({ mark: z.object({ frame: z.number(), name: z.string().trim(), colour: z.enum(markColours).nullable() }) }),
]);
type Said = z.infer<typeof settings>;

const channelsWord = (count: number) => `${count} ${count === 1 ? "channel" : "channels"}`;

function withLocks(shot: Shot, keys: readonly string[], lock: boolean): Shot {
  const meant = new Set(keys);
  const others = shot.locked.filter((key) => !meant.has(key));
  return { ...shot, locked: lock ? [...others, ...keys] : others };
}

function changed(shot: Shot, said: Said): { shot: Shot; summary: string } {
  if ("name" in said) return { shot: { ...shot, name: said.name }, summary: `Rename to ${said.name}` };
  if ("range" in said) return { shot: { ...shot, range: said.range }, summary: `Range ${said.range.start}–${said.range.end}` };
  if ("rate" in said) {
    const fps = Math.round(framesPerSecond(said.rate) * 1000) / 1000;
    return { shot: { ...shot, rate: said.rate }, summary: `${countedWord(fps, "frame")} per second; keys stay on their frames` };
  }
  if ("cyclic" in said)
    return { shot: { ...shot, cyclic: said.cyclic }, summary: said.cyclic ? "A cycle: the last frame is the first again" : "No cycle" };
  if ("lock" in said) return { shot: withLocks(shot, said.lock, true), summary: `Lock ${channelsWord(said.lock.length)}` };
  if ("unlock" in said) return { shot: withLocks(shot, said.unlock, false), summary: `Unlock ${channelsWord(said.unlock.length)}` };
  if ("removeSet" in said)
    return { shot: { ...shot, sets: shot.sets.filter((set) => set.name !== said.removeSet) }, summary: `Remove set "${said.removeSet}"` };
  if ("keepSet" in said) {
    const { keepSet } = said;
    const sets = [...shot.sets.filter((set) => set.name !== keepSet.name), keepSet];
    return { shot: { ...shot, sets }, summary: `Set "${keepSet.name}" of ${channelsWord(keepSet.channels.length)}` };
  }
  const { mark } = said;
  const others = shot.poseMarks.filter(({ frame }) => frame !== mark.frame);
  return {
    shot: { ...shot, poseMarks: mark.name || mark.colour ? [...others, mark] : others },
    summary: mark.name ? `Call the pose of frame ${mark.frame} "${mark.name}"` : `Colour of the pose of frame ${mark.frame}`,
  };
}

/** What the shot is called, where it starts and ends, what is locked, what its poses are called: one thing at a time. */
export const changeShot = byHand<Said>({
  id: "change-shot",
  title: "Change the shot",
  help: "Changes one thing about the shot that is no motion.",
  settings,
  named: true,
  edit: (shot, _scope, said) => changed(shot, said),
});
