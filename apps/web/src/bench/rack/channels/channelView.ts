import { type ChannelKey, channelKey, layerCurves, operations, type Shot, splitChannelKey } from "@kneader/core";
import { create } from "zustand";
import { currentDocument } from "../../documents.ts";
import { performOrTell } from "../../perform.ts";
import { useSelection } from "../../selection.ts";
import { type ChannelFilter, listedChannels, NO_FILTER } from "./channelFilter.ts";

/** What of the figure's channels the trays list and draw. It is a way of looking, not a part of the shot. */
interface ChannelView extends ChannelFilter {
  /** Not drawn in the curve tray, no line in the sheet. */
  readonly hidden: ReadonlySet<ChannelKey>;
  /** All curves of what is picked are drawn, however many. */
  readonly every: boolean;
  setEvery(every: boolean): void;
  set(change: Partial<ChannelFilter>): void;
  hide(keys: readonly ChannelKey[], hidden: boolean): void;
  showOnly(keys: readonly ChannelKey[]): void;
  showAll(): void;
}

export const useChannelView = create<ChannelView>((set, get) => ({
  ...NO_FILTER,
  hidden: new Set(),
  every: false,
  setEvery: (every) => set({ every }),
  set,
  hide(keys, hidden) {
    const next = new Set(get().hidden);
    for (const key of keys) {
      if (hidden) next.add(key);
      else next.delete(key);
    }
    set({ hidden: next });
  },
  showOnly(keys) {
    const kept = new Set(keys);
    set({ hidden: new Set(allChannels().filter((key) => !kept.has(key))) });
  },
  showAll: () => set({ hidden: new Set() }),
}));

function allChannels(): ChannelKey[] {
  return currentDocument()?.rig.controls.flatMap(({ id, channels }) => channels.map((channel) => channelKey(id, channel))) ?? [];
}

/** The channels that the list shows for a layer, those it has hidden by hand left out. */
export function listedKeys(shot: Shot, layer: string): ChannelKey[] {
  const view = useChannelView.getState();
  const state = { curves: layerCurves(shot, layer), picked: useSelection.getState().controls, locked: new Set(shot.locked) };
  return shot.rig.controls.flatMap((control) => listedChannels(control, view, state)).filter((key) => !view.hidden.has(key));
}

/** The channels that are picked, one by one or by their controls; none when nothing is. */
export function pickedChannels(): ChannelKey[] {
  const { controls, channels } = useSelection.getState();
  return channels.length > 0 ? [...channels] : allChannels().filter((key) => controls.includes(splitChannelKey(key).control));
}

/** Show the picked channels and no other; with nothing picked, or when they stand alone already, show all. */
export function isolatePicked(): void {
  const picked = pickedChannels();
  const { hidden, showOnly, showAll } = useChannelView.getState();
  const alone = allChannels().length - hidden.size === picked.length && picked.every((key) => !hidden.has(key));
  if (picked.length === 0 || alone) showAll();
  else showOnly(picked);
}

/** Lock or unlock channels: one step of the history, kept with the shot. */
export function lockChannels(keys: readonly ChannelKey[], lock: boolean): void {
  if (keys.length > 0) performOrTell(operations.changeShot, lock ? { lock: [...keys] } : { unlock: [...keys] });
}

/** Lock the picked channels, or unlock them when all are locked. */
export function togglePickedLocks(): void {
  const picked = pickedChannels();
  const locked = new Set(currentDocument()?.locked);
  lockChannels(picked, !picked.every((key) => locked.has(key)));
}

/** Keep the picked channels with the shot under a name; a set of that name is replaced. */
export function saveSet(name: string): void {
  const channels = pickedChannels();
  if (channels.length === 0 || name.trim() === "") return;
  performOrTell(operations.changeShot, { keepSet: { name: name.trim(), channels } });
}

export function removeSet(name: string): void {
  performOrTell(operations.changeShot, { removeSet: name });
}

/** Pick what a set names, as far as the rig has it. */
export function pickSet(name: string): void {
  const keys = currentDocument()?.sets.find((set) => set.name === name)?.channels ?? [];
  const known = new Set(allChannels());
  const { pickControls, pickChannels } = useSelection.getState();
  const there = keys.filter((key) => known.has(key));
  pickControls([...new Set(there.map((key) => splitChannelKey(key).control))]);
  pickChannels(there);
}
