import { BASE, type ChannelKey, channelKey, type Curves, keysOn, layerControls, layerCurves, layerOf, type Shot } from "@kneader/core";
import { clock } from "./clock.ts";
import { currentDocument, useDocuments } from "./documents.ts";
import { NO_FILTER } from "./rack/channels/channelFilter.ts";
import { useChannelView } from "./rack/channels/channelView.ts";
import { useValueAxis } from "./rack/curves/valueAxis.ts";
import { type Picks, useSelection } from "./selection.ts";
import { fitTime } from "./timeAxis.ts";
import { openAsked, useWork } from "./work/workStore.ts";

/*
 * The shot at hand: its document, what is picked of it, and the playhead belong together. They begin together, and
 * whatever becomes of the document, by hand, by undo or from elsewhere, nothing is picked that is not there.
 */

/** Begin work on a shot that is open in this tab: nothing is picked, hidden, zoomed or being tried, and the playhead stands at its start. */
export function beginSession(id: string, shot: Shot): void {
  useSelection.getState().clear();
  useSelection.getState().setLayer(BASE);
  useChannelView.getState().showAll();
  useChannelView.getState().set(NO_FILTER);
  useChannelView.getState().setEvery(false);
  useValueAxis.getState().fit();
  useWork.getState().close();
  clock.stop();
  useDocuments.getState().show(id);
  clock.set(shot.range.start);
  fitTime(shot.range.start, shot.range.end);
  openAsked();
}

/** End it for now: it neither plays nor shows what was tried. */
export function endSession(): void {
  clock.stop();
  useDocuments.getState().setLive(null);
  useDocuments.getState().setPreview(null);
}

/** What of some picks is there in a shot; the very same ones where all of them are. */
export function picksIn(shot: Shot, picks: Picks): Picks {
  const layer = picks.layer === BASE || layerOf(shot, picks.layer) ? picks.layer : BASE;
  const controls = kept(picks.controls, new Set(shot.rig.controls.map(({ id }) => id)));
  const listed = layerControls(shot, layer);
  const known = new Set(
    [...shot.rig.controls, ...listed].flatMap(({ id, channels }) => channels.map((channel) => channelKey(id, channel))),
  );
  const channels = kept(picks.channels, known);
  const keys = layer === picks.layer ? keysIn(layerCurves(shot, layer), picks.keys) : {};
  const same = layer === picks.layer && controls === picks.controls && channels === picks.channels && keys === picks.keys;
  return same ? picks : { layer, controls, channels, keys };
}

function kept<Value>(list: readonly Value[], known: ReadonlySet<Value>): readonly Value[] {
  return list.every((one) => known.has(one)) ? list : list.filter((one) => known.has(one));
}

function keysIn(curves: Curves, keys: Picks["keys"]): Picks["keys"] {
  const left: Record<ChannelKey, readonly number[]> = {};
  let isWhole = true;
  for (const [key, times] of Object.entries(keys)) {
    const curve = curves[key];
    const there = curve ? times.filter((time) => keysOn(curve, [time]).length > 0) : [];
    if (there.length > 0) left[key] = there.length === times.length ? times : there;
    if (left[key] !== times) isWhole = false;
  }
  return isWhole ? keys : left;
}

/** Let go of what is picked and no longer there, at each change of the shot at hand. */
useDocuments.subscribe((now, before) => {
  if (now.open === before.open && now.current === before.current) return;
  const shot = currentDocument();
  if (!shot) return;
  const picks = useSelection.getState();
  const left = picksIn(shot, picks);
  if (left !== picks) useSelection.setState(left);
});
