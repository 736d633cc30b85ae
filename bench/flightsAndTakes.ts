import { takeOfCapture, poseOfFrame } from "../packages/core/src/capture/captureTake.ts";
import { encodeFrame, keysOfHeader, startMessage } from "../packages/core/src/capture/messages.ts";
import { makePerformer } from "../packages/core/src/capture/performer.ts";
import { Receiver } from "../packages/core/src/capture/receiver.ts";
import { findFlights } from "../packages/core/src/evaluate/findFlights.ts";
import { makePlayer } from "../packages/core/src/evaluate/makePlayer.ts";
import type { Take } from "../packages/core/src/model/take.ts";
import { checkSettings, operations } from "../packages/core/src/operations/catalogue.ts";
import { noContext, WHOLE_FIGURE } from "../packages/core/src/operations/operation.ts";
import { flightOver } from "../packages/core/src/passes/flight/flightSettings.ts";
import { demoShots } from "../packages/demo/src/index.ts";
import { atMost, medians, type Row } from "./measure.ts";

const demo = async (id: string) => {
  const found = demoShots.find((shot) => shot.id === id);
  if (!found) throw new Error(`no demo shot ${id}`);
  return found.make();
};

/** Thirty seconds of a hand, on the three angles of a control. */
function handTake(): Take {
  const column = (phase: number) =>
    Array.from({ length: 720 }, (_, n) => 18 * Math.sin(n / 15 + phase) + 4 * Math.sin(n / 4.1 + 2 * phase));
  return { id: "a", name: "Take 1", start: 1, values: { "head.rotateX": column(0), "head.rotateY": column(1), "head.rotateZ": column(2) } };
}

/** What flights, takes and a capture line cost. */
export async function benchFlightsAndTakes(): Promise<Row[]> {
  const hop = await demo("demo-hop-aboard");
  const flight = checkSettings(operations.fly as never, { flights: [flightOver(15, 36)] }) as never;
  const told = checkSettings(operations.record as never, { recorded: { takes: [handTake()], chosen: "a" }, rotation: 0.5 }) as never;
  const long = { ...hop, range: { start: 1, end: 720 } };
  const performer = makePerformer(hop, startMessage.parse({ type: "start", session: "s" }));
  const { header } = performer;
  const receiver = new Receiver(keysOfHeader(header).length);
  const player = makePlayer(hop);
  let sequence = 0;
  /** What a picture costs at 120 packets and 60 pictures a second. */
  const picture = () => {
    let frame = null;
    for (let n = 0; n < 2; n++) {
      sequence++;
      frame = receiver.accept(encodeFrame(performer.frame(sequence)), sequence / 120);
    }
    if (frame) poseOfFrame(header, frame, hop.rig);
    player.pose((sequence % 40) + 1);
  };
  const frames = Array.from({ length: 7200 }, (_, n) => performer.frame(n));
  const below = makePlayer(hop, { free: true });
  const times = await medians({
    found: () => findFlights(hop),
    flown: () => operations.fly.run(hop, WHOLE_FIGURE, flight, noContext),
    simplified: () => operations.record.run(long, WHOLE_FIGURE, told, noContext),
    picture,
    taken: () => takeOfCapture(header, frames, below, { first: 1, step: 0.2 }, { id: "t", name: "t", controls: null }),
  });
  return [
    { work: "Flights of the hop found", ms: times.found },
    atMost("Hop aboard flown by its centre of mass, measured against its arc", times.flown, 120),
    atMost("A take of 30 s on three angles, simplified within 0.5°", times.simplified, 300),
    atMost("A picture of a capture: two packets of 48 controls taken, told on the figure, posed", times.picture, 6),
    { work: "60 s at 120 Hz of 48 controls fitted and told in frames of the shot", ms: times.taken },
  ];
}
