import { type Shot, simplified, withSwitches } from "@kneader/core";
import { landingShot, sampleMotion } from "../makeShot.ts";
import { wave } from "../motion.ts";
import { dressSet, hangLantern, takeStance } from "../stance.ts";

/** Shot 5: an idle on board that loops while the ferry rocks and the camera drifts. */
export async function waitingOnBoard(): Promise<Shot> {
  const length = 72;
  const shot = sampleMotion(landingShot("demo-waiting", "Waiting on board", 1, 1 + length), (frame) => {
    const c = (frame - 1) / length;
    const rock = 2.2 * wave(c);
    const bob = 0.012 * wave(2 * c + 0.1);
    const puppet = takeStance({
      x: 1.95,
      heading: 55,
      up: -0.035 + 0.006 * wave(2 * c),
      along: 0.012 * wave(c - 0.08),
      hips: [3 - 0.5 * rock, 3 * wave(c + 0.1), -0.9 * rock],
      belly: [3 + 1.2 * wave(2 * c + 0.2), 0, 0.6 * rock],
      chest: [3 + 1.6 * wave(2 * c + 0.15), 3 * wave(c), 0.5 * rock],
      neck: [1, 4 * wave(c - 0.1), 0],
      head: [-3 + 2 * wave(2 * c - 0.1), 14 * wave(c - 0.12), 2 * wave(c - 0.2)],
      footLeft: [0.03, 0, 0],
      footRight: [-0.03, 0, 0],
      armLeft: [8 + 3 * wave(c - 0.1), 10, 20 + 3 * wave(2 * c)],
      armRight: [5 - 3 * wave(c - 0.1), 10, 34],
      gripRight: 0.9,
      tail: [8, 3 + 2 * wave(2 * c - 0.15), -6 + 3 * wave(2 * c - 0.25), -9 + 4 * wave(2 * c - 0.35)],
      sway: [4 * wave(c - 0.1), 7 * wave(c - 0.18), 10 * wave(c - 0.26), 14 * wave(c - 0.34)],
      tassel: [8 + 3 * wave(2 * c), 11 + 5 * wave(2 * c - 0.15)],
      tasselSway: [3 * wave(c), 6 * wave(c - 0.12)],
      ears: 3 * wave(2 * c - 0.3),
    });
    hangLantern(puppet, "right", 5 * wave(c - 0.25), 3 * wave(c - 0.2));
    return dressSet(puppet, [1.85 + 0.12 * wave(c), 0.78 + 0.02 * wave(c + 0.25), 3.3], rock, bob);
  });
  const simple = await simplified(shot, { rotation: 0.4, move: 0.001, together: "control" });
  // He and what he holds stand on the ferry, and go along with it.
  return ["ferryman", "lantern"].reduce(
    (standing, id) => withSwitches(standing, id, [{ frame: Number.NEGATIVE_INFINITY, space: "ferry" }]),
    simple,
  );
}
