import { repeats } from "../curve/runOn.ts";
import { makePlayer } from "../evaluate/makePlayer.ts";
import { channelKey, figureControls } from "../model/rig.ts";
import { framesPerSecond } from "../model/rate.ts";
import type { Shot } from "../model/shot.ts";
import { type CaptureFrame, type HeaderMessage, keysOfHeader, type StartMessage } from "./messages.ts";
import { drawFrom } from "./draw.ts";

/** A deterministic performer: the same numbers for a frame whenever and wherever they are asked for. */
export interface Performer {
  readonly header: HeaderMessage;
  frame(sequence: number): CaptureFrame;
}

/** A shot played round after round at a rate, with the jitter and the drift that are asked for. */
export function makePerformer(shot: Shot, { rate, seed, noise, drift }: StartMessage): Performer {
  const controls = figureControls(shot.rig);
  const ids = new Set(controls.map(({ id }) => id));
  const header: HeaderMessage = {
    type: "header",
    version: 1,
    name: shot.name,
    rate,
    controls: controls.map(({ id, name, parent, rest, restTurn, order, channels, partner }) => ({
      id,
      name,
      parent: parent !== null && ids.has(parent) ? parent : null,
      rest: [...rest],
      restTurn: [...restTurn],
      order,
      channels: [...channels],
      partner,
    })),
  };
  const keys = keysOfHeader(header);
  const player = makePlayer(shot, { free: true });
  const at = controls.flatMap(({ id, channels }) => channels.map((channel) => player.channelIndex.get(channelKey(id, channel)) as number));
  const turns = keys.map((key) => key.includes(".rotate"));
  const { start, end } = shot.range;
  const length = end - start + 1;
  // What goes on for ever by itself is not begun again.
  const isEndless = Object.values(shot.base).some(({ runOut }) => repeats(runOut) && runOut.rounds === 0);
  return {
    header,
    frame(sequence) {
      const clock = sequence / rate;
      const gone = clock * framesPerSecond(shot.rate);
      player.readValues(start + (isEndless ? gone : gone % length));
      const values = new Float32Array(keys.length);
      for (let n = 0; n < keys.length; n++) {
        const jitter = turns[n] ? noise * drawFrom(seed, sequence, n) + (drift * clock) / 60 : 0;
        values[n] = player.values[at[n]] + jitter;
      }
      return { sequence, clock, values };
    },
  };
}
