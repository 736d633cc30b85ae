import { csvFormatRows, csvParseRows } from "d3-dsv";
import type { Curve } from "../curve/curve.ts";
import { KneaderError } from "../errors.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { ledControls } from "../constraints/ledControls.ts";
import { bakeRow } from "../evaluate/bakeRow.ts";
import { placeChannels } from "../figure/localValues.ts";
import { findPartners } from "../figure/partners.ts";
import { freshId } from "../model/freshId.ts";
import { type ChannelKey, channelKey, channelKeysOf, makeControl, splitChannelKey } from "../model/rig.ts";
import type { Shot } from "../model/shot.ts";
import { emptyShot } from "../model/shotFields.ts";
import { curveFromSamples } from "../curve/bakeValues.ts";
import { TOLD } from "./sampled.ts";
import { sayBaked } from "./sayBaked.ts";
import { decodeText, encodeText } from "./utf8.ts";
import type { Exported, Format, Imported, ShotFile, WriteChoices } from "./format.ts";

/**
 * One line a frame, one column a channel that has a curve anywhere: final values, passes included. What something leads
 * has the values with which it stands there under what it hangs on.
 */
export function writeCsv(shot: Shot, { progress }: WriteChoices = {}): Exported {
  const player = makePlayer(shot);
  const ties = ledControls(shot);
  const led = shot.rig.controls.filter(({ id }) => ties.has(id));
  const placed = new Set(led.flatMap(({ id }) => placeChannels.map((channel) => channelKey(id, channel))));
  const keyed = new Set([...Object.keys(shot.base), ...shot.passes.flatMap((pass) => Object.keys(pass.curves)), ...placed]);
  const own = channelKeysOf(shot.rig);
  const all = [...new Set([...own, ...placed])];
  // Where nothing is keyed at all everything stands there as it stands, so that the table can be read back.
  const keys = keyed.size === 0 ? all : all.filter((key) => keyed.has(key));
  const headings = headingsOf(shot);
  const rows: (string | number)[][] = [["frame", ...keys.map(headings)]];
  const start = Math.floor(shot.range.start);
  const baked = new Map([...placed].map((key) => [key, new Float64Array(Math.floor(shot.range.end) - start + 1)]));
  for (let frame = start; frame <= shot.range.end; frame++) {
    if ((frame - start) % TOLD === 0) progress?.((frame - start) / (shot.range.end - start + 1));
    player.readValues(frame);
    const values = keys.map((key) => player.values[player.channelIndex.get(key) as number]);
    player.pose(frame);
    bakeRow(player, led, frame - start, baked);
    rows.push([frame, ...keys.map((key, n) => baked.get(key)?.[frame - start] ?? values[n])]);
  }
  return {
    bytes: encodeText(`${csvFormatRows(rows.map((row) => row.map(String)))}\n`),
    notes: ["CSV holds one value a frame; the rig, keys, tangents and passes are not kept.", ...(led.length > 0 ? [sayBaked(led)] : [])],
  };
}

/** Channels by the names of their controls; by ids where names are shared, or hold what parts a heading. */
function headingsOf({ rig }: Shot): (key: ChannelKey) => string {
  const times = new Map<string, number>();
  for (const { id, name } of rig.controls) for (const one of new Set([id, name])) times.set(one, (times.get(one) ?? 0) + 1);
  const plain = new Map(
    rig.controls.map(({ id, name }) => [
      id,
      name.trim() === name && name !== "" && !/[.\n\r]/.test(name) && times.get(name) === 1 ? name : id,
    ]),
  );
  return (key) => {
    const { control, channel } = splitChannelKey(key);
    return channelKey(plain.get(control) ?? control, channel);
  };
}

const MOST_COLUMNS = 20_000;

/** Read such a table back: a flat rig of the controls its heading names, a linear key a frame. */
export function readCsv({ bytes, name }: ShotFile): Imported {
  const lines = csvParseRows(decodeText(bytes)).filter((row) => row.some((cell) => cell.trim() !== ""));
  const [first, ...keys] = (lines[0] ?? []).map((cell) => cell.trim());
  if (first?.toLowerCase() !== "frame" || keys.length === 0)
    throw new KneaderError("csv-syntax", 'Line 1: the heading must be "frame" and then one column a channel, such as "hips.moveX".');
  if (keys.length > MOST_COLUMNS)
    throw new KneaderError("csv-syntax", `Line 1: there are ${keys.length} columns; up to ${MOST_COLUMNS} can be read.`);
  const seen = new Set<string>();
  for (const key of keys) {
    if (seen.has(key)) throw new KneaderError("csv-syntax", `Line 1: the channel "${key}" stands there twice.`);
    seen.add(key);
  }
  const wrong = keys.find((key) => !/^[^.]+\.[^.]+$/.test(key));
  if (wrong !== undefined) throw new KneaderError("csv-syntax", `Line 1: "${wrong}" is not a channel; "control.channel" is expected.`);
  if (lines.length < 2) throw new KneaderError("csv-syntax", "The table has 0 frames; there is nothing to play.");
  const table = keys.map(() => new Float64Array(lines.length - 1));
  let start = 0;
  for (let n = 1; n < lines.length; n++) {
    const row = lines[n].map((cell) => (cell.trim() === "" ? Number.NaN : Number(cell)));
    if (row.length !== keys.length + 1)
      throw new KneaderError("csv-syntax", `Line ${n + 1} has ${row.length} columns; the heading has ${keys.length + 1}.`);
    const bad = row.findIndex((value) => !Number.isFinite(value));
    if (bad >= 0) throw new KneaderError("csv-syntax", `Line ${n + 1}, column ${bad + 1} is not a number.`);
    if (n === 1) start = row[0];
    else if (row[0] !== start + n - 1)
      throw new KneaderError("csv-syntax", `Line ${n + 1}: frame ${start + n - 1} expected, ${row[0]} found.`);
    for (let c = 0; c < keys.length; c++) table[c][n - 1] = row[c + 1];
  }
  const controls = new Map<string, string[]>();
  for (const key of keys) {
    const { control, channel } = splitChannelKey(key);
    controls.set(control, [...(controls.get(control) ?? []), channel]);
  }
  const list = [...controls].map(([id, channels]) => makeControl(id, { channels }));
  const base: Record<ChannelKey, Curve> = Object.fromEntries(keys.map((key, c) => [key, curveFromSamples(start, table[c])]));
  return {
    shot: emptyShot({
      id: freshId("shot"),
      name,
      rig: { id: freshId("rig"), name, controls: findPartners(list), figure: null },
      range: { start, end: start + lines.length - 2 },
      base,
    }),
    notes: ["CSV does not say the frame rate or the hierarchy: 24 frames a second are taken, all controls side by side."],
  };
}

/** A table of values, for spreadsheets and scripts. */
export const csv: Format = {
  id: "csv",
  title: "CSV table",
  extension: ".csv",
  help: "One line a frame, one column a channel.",
  read: readCsv,
  write: writeCsv,
};
