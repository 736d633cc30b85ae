import { curveFrom } from "../../src/curve/make.ts";
import { takeOfCapture, clipOfFrames, poseOfFrame } from "../../src/capture/captureTake.ts";
import { isDropped, sentAt } from "../../src/capture/faults.ts";
import { decodeFrame, encodeFrame, headerMessage, keysOfHeader, readText, rigOf, startMessage } from "../../src/capture/messages.ts";
import { makePerformer } from "../../src/capture/performer.ts";
import { Receiver } from "../../src/capture/receiver.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { sampleCurve } from "../../src/curve/track.ts";
import { channelKey } from "../../src/model/rig.ts";
import { emptyShot } from "../../src/model/shotFields.ts";
import { record } from "../../src/operations/performance/record.ts";
import { Chance } from "../help/chance.ts";
import { run } from "../help/run.ts";
import { control } from "../help/shots.ts";

/** A performer of 48 controls in a chain and a half, who moves all the time. */
function performed() {
  const chance = new Chance(2);
  const controls = Array.from({ length: 48 }, (_, n) =>
    control(`c${n}`, n === 0 ? null : `c${n % 2 === 0 ? n - 1 : Math.floor(n / 2)}`, [0.1, 0.2, 0]),
  );
  const base = Object.fromEntries(
    controls.flatMap(({ id, channels }) =>
      channels
        .filter((channel) => channel.startsWith("rotate") || id === "c0")
        .map((channel) => [channelKey(id, channel), curveFrom([1, 20, 40, 60].map((frame) => [frame, chance.between(-40, 40)]))]),
    ),
  );
  return emptyShot({
    id: "p",
    name: "Performer",
    rig: { id: "r", name: "Performer", figure: null, controls },
    base,
    range: { start: 1, end: 60 },
    unitMetres: 1,
  });
}

const asked = (more: object = {}) => startMessage.parse({ type: "start", session: "s", rate: 120, ...more });

describe("60 s at 120 Hz of 48 controls over a bad line", () => {
  const bad = asked({ dropped: 5, late: 5, swapped: 5, doubled: 5, noise: 0.5, drift: 3, seed: 7 });
  const performer = makePerformer(performed(), bad);
  const keys = keysOfHeader(performer.header);
  const receiver = new Receiver(keys.length);
  const arrived = new Set<number>();
  const chance = new Chance(1);
  const SKEW = 2e-4;
  let refused = 0;
  const TOTAL = 60 * 120;
  for (let n = 0; n < TOTAL; n++) {
    // One's own clock runs a little quicker, and packets take from 2 to 30 ms.
    const now = 100 + (n / 120) * (1 + SKEW) + chance.between(0.002, 0.03);
    if (n === 240) receiver.begin(1);
    for (const sequence of sentAt(bad, n)) {
      receiver.accept(encodeFrame(performer.frame(sequence)), now);
      arrived.add(sequence);
    }
    // Now and then something else comes.
    if (n % 500 === 3)
      for (const hostile of [new Uint8Array(7), new Uint8Array(16 + 4 * keys.length), new Uint8Array(100_000)]) {
        expect(() => receiver.accept(hostile, now)).toThrow(/frame/i);
        refused++;
      }
  }
  const { frames, gaps } = receiver.end();
  const first = frames[0].sequence;

  it("the take is the source at every frame that arrived, in order, once each, from a second before the button", () => {
    expect(first).toBeGreaterThanOrEqual(239 - 120);
    expect(first).toBeLessThanOrEqual(239 - 118);
    expect(frames.map(({ sequence }) => sequence)).toEqual([...arrived].filter((sequence) => sequence >= first).sort((a, b) => a - b));
    const bytes = ({ buffer }: Float32Array) => Buffer.from(buffer);
    expect(frames.every((frame) => bytes(frame.values).equals(bytes(performer.frame(frame.sequence).values)))).toBe(true);
    expect(receiver.counts.refused).toBe(refused);
    expect(receiver.counts.again).toBeGreaterThan(200);
  });

  it("gaps are listed to the frame: just those that were never sent", () => {
    const missing = gaps.flatMap(({ start, end }) => Array.from({ length: end - start + 1 }, (_, n) => start + n));
    const last = frames[frames.length - 1].sequence;
    const never = Array.from({ length: last - first + 1 }, (_, n) => first + n).filter((sequence) => !arrived.has(sequence));
    expect(missing).toEqual(never);
    expect(never.filter((sequence) => sequence < TOTAL - 20).every((sequence) => isDropped(bad, sequence))).toBe(true);
    expect(never.length / TOTAL).toBeGreaterThan(0.03);
  });

  it("the device's clock is known to a few milliseconds, its skew taken out", () => {
    for (const sequence of [TOTAL - 600, TOTAL - 10]) {
      const true_ = 100 + (sequence / 120) * (1 + SKEW) + 0.002;
      expect(Math.abs(receiver.ownTime(sequence / 120) - true_)).toBeLessThan(0.004);
    }
  });

  it("it does the same each time, and something else for another seed", () => {
    const again = makePerformer(performed(), bad);
    const other = makePerformer(performed(), { ...bad, seed: 8 });
    expect(again.frame(777)).toEqual(performer.frame(777));
    expect(other.frame(777).values).not.toEqual(performer.frame(777).values);
    const clean = makePerformer(performed(), { ...bad, noise: 0, drift: 0 });
    const noise = Array.from({ length: 2000 }, (_, n) => performer.frame(n).values[5] - clean.frame(n).values[5]);
    expect(Math.max(...noise.map(Math.abs))).toBeLessThanOrEqual(0.5 + (3 * (2000 / 120)) / 60 + 1e-3);
  });
});

describe("a capture becomes a take", () => {
  const performer = makePerformer(performed(), asked());
  const frames = Array.from({ length: 241 }, (_, n) => performer.frame(n + 100)).filter(({ sequence }) => sequence < 150 || sequence > 152);
  const shot = { ...performed(), base: {} };
  const below = makePlayer(shot, { free: true });

  it("at the device's frames it is what came, straight between where some are missing", () => {
    const { curves, length } = clipOfFrames(performer.header, frames);
    expect(length).toBe(240);
    const curve = curves["c5.rotateX"];
    const at = keysOfHeader(performer.header).indexOf("c5.rotateX");
    for (const frame of frames) expect(sampleCurve(curve, frame.sequence - 100)).toBe(frame.values[at]);
    const [a, b] = [frames[49].values[at], frames[50].values[at]];
    expect(sampleCurve(curve, 51)).toBeCloseTo((a + b) / 2, 4);
  });

  it("in the shot it has a value at each whole frame, and recorded in place of what is below it is the performer", async () => {
    // 120 frames a second in a shot of 24: five to a frame; its first is at frame 10.
    const made = takeOfCapture(performer.header, frames, below, { first: 10, step: 0.2 }, { id: "t", name: "Take 1", controls: null });
    expect(made?.take.start).toBe(10);
    const { take } = made as NonNullable<typeof made>;
    expect(take.values["c5.rotateX"]).toHaveLength(49);
    const { shot: after } = await run(
      record,
      { ...shot, range: { start: 1, end: 60 } },
      { recorded: { takes: [take], chosen: "t", joins: [] }, how: "replaces" },
    );
    const player = makePlayer(after);
    for (let frame = 10; frame <= 58; frame++) {
      const sequence = 100 + (frame - 10) * 5;
      if (sequence >= 150 && sequence <= 152) continue;
      player.readValues(frame);
      const source = performer.frame(sequence).values;
      keysOfHeader(performer.header).forEach((key, n) => {
        expect(Math.abs(player.values[player.channelIndex.get(key) as number] - source[n])).toBeLessThan(1e-5);
      });
    }
  });

  it("of chosen controls alone, and live a frame at a time", () => {
    const made = takeOfCapture(performer.header, frames, below, { first: 1, step: 0.2 }, { id: "t", name: "t", controls: ["c7"] });
    expect(new Set(Object.keys(made?.take.values ?? {}).map((key) => key.split(".")[0]))).toEqual(new Set(["c7"]));
    const pose = poseOfFrame(performer.header, frames[30], shot.rig);
    expect(pose["c9.rotateZ"]).toBe(frames[30].values[keysOfHeader(performer.header).indexOf("c9.rotateZ")]);
    expect(rigOf(performer.header).controls).toHaveLength(48);
  });
});

describe("messages", () => {
  const { header } = makePerformer(performed(), asked());

  it("a frame goes over and comes back, to the last bit", () => {
    const frame = { sequence: 4_000_000_000, clock: 12.345678901234, values: Float32Array.of(1.5, -2.25, 1e-30) };
    expect(decodeFrame(encodeFrame(frame), 3)).toEqual(frame);
  });

  it.each([
    ["cut off", (bytes: Uint8Array) => bytes.slice(0, 20), /20 bytes came where 28 belong/],
    ["too long", (bytes: Uint8Array) => Uint8Array.of(...bytes, 0), /29 bytes/],
    ["something else", (bytes: Uint8Array) => bytes.fill(9, 0, 4), /no frame/],
    ["without a time", (bytes: Uint8Array) => bytes.fill(255, 8, 16), /no time/],
    ["with a value that is no number", (bytes: Uint8Array) => bytes.fill(255, 16, 20), /no number/],
  ])("a frame that is %s is refused with the reason", (_name, spoil, reason) => {
    const bytes = encodeFrame({ sequence: 1, clock: 1, values: Float32Array.of(1, 2, 3) });
    expect(() => decodeFrame(spoil(bytes), 3)).toThrow(reason);
  });

  it.each([
    ["no JSON", "{", /no JSON/],
    ["another version", JSON.stringify({ ...header, version: 2 }), /neither/],
    ["two controls of one id", JSON.stringify({ ...header, controls: [header.controls[0], header.controls[0]] }), /one id|neither/],
    ["a control that hangs on a later one", JSON.stringify({ ...header, controls: [header.controls[1]] }), /neither/],
    ["a thousand controls", JSON.stringify({ ...header, controls: Array(1000).fill(header.controls[0]) }), /neither/],
  ])("a text with %s is refused", (_name, text, reason) => {
    expect(() => readText(text)).toThrow(reason);
  });

  it("a header and a problem are read", () => {
    expect(headerMessage.parse(readText(JSON.stringify(header)))).toEqual(header);
    expect(readText('{"type":"problem","detail":"x"}')).toEqual({ type: "problem", detail: "x" });
    expect(startMessage.safeParse({ type: "start", session: "s", dropped: 80 }).success).toBe(false);
  });
});
