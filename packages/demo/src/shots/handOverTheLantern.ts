import {
  type Curve,
  curveFrom,
  noContext,
  operations,
  type Scope,
  type Shot,
  simplified,
  switchFollow,
  Tangent,
  WHOLE_FIGURE,
} from "@kneader/core";
import { landingShot, sampleMotion } from "../makeShot.ts";
import { mix, soft, wave } from "../motion.ts";
import { Puppet, type Vec } from "../puppet.ts";
import { dressSet, GRIP, hangLantern, takeStance } from "../stance.ts";

const { bakeDown, switchSpace } = operations;

const HAND_OVER = 28;
const HANG = 60;
const BULGE = 0.09;

/** Move the hand so that its closed fingers come to a place; the arm bends toward `pole`. */
function gripAt(puppet: Puppet, side: "left" | "right", place: Vec, pole: Vec): void {
  let target = place;
  // The hand turns with the forearm, so where the fingers end up is found in a few rounds.
  for (let round = 0; round < 4; round++) {
    puppet.reach(`upper-arm-${side}`, `forearm-${side}`, `hand-${side}`, target, pole);
    const grip = puppet.pointOf(`hand-${side}`, GRIP);
    target = [0, 1, 2].map((k) => target[k] + place[k] - grip[k]) as Vec;
  }
}

/** Shot 3: the lantern goes from the right hand to the left one and on to the hook. */
export async function handOverTheLantern(): Promise<Shot> {
  const end = 84;
  const hook: Vec = [0.62, 0.9, -0.18];
  const stand = (frame: number): Puppet => {
    const meet = soft((frame - 8) / (HAND_OVER - 10));
    const part = soft((frame - HAND_OVER - 3) / 16);
    const give = meet * (1 - part);
    const back = soft((frame - HANG - 5) / 17);
    const raise = soft((frame - HAND_OVER - 5) / (HANG - HAND_OVER - 9)) * (1 - back);
    // The body leads the hand up to the hook and leaves after it, so that the arm never runs out of reach.
    const rise = soft((frame - HAND_OVER - 1) / (HANG - HAND_OVER - 13)) * (1 - soft((frame - HANG - 10) / 17));
    const breath = wave(frame / 42);
    const puppet = takeStance({
      x: 0.38,
      heading: 90,
      up: -0.03 - 0.01 * give + 0.026 * rise,
      along: 0.035 * rise,
      hips: [3 + 3 * rise, 6 * give - 8 * rise, 0],
      belly: [3 + 0.5 * breath, 3 * give - 5 * rise, 0],
      chest: [3 + breath + 3 * rise, 5 * give - 9 * rise, -4 * rise],
      neck: [2 - 3 * rise, -3 * give, 0],
      head: [9 * give - 15 * rise + 0.6 * breath, -8 * give + 4 * rise, 0],
      footLeft: [0.03, 0, 0],
      footRight: [-0.04, 0.02 * rise, 14 * rise],
      gripRight: mix(0.95, 0.2, soft((frame - HAND_OVER - 1) / 6)),
      gripLeft: mix(0.2, 0.95, soft((frame - HAND_OVER + 6) / 6)) * (1 - 0.8 * soft((frame - HANG - 1) / 6)),
      tail: [
        6 + 2 * wave(frame / 42 - 0.1) - 6 * rise,
        2 + 3 * wave(frame / 42 - 0.2) - 4 * rise,
        -8 + 4 * wave(frame / 42 - 0.3),
        -10 + 5 * wave(frame / 42 - 0.4),
      ],
      sway: [5 * wave(frame / 60), 7 * wave(frame / 60 - 0.1), 9 * wave(frame / 60 - 0.2), 10 * wave(frame / 60 - 0.3)],
      tassel: [6 + 3 * wave(frame / 30), 8 + 5 * wave(frame / 30 - 0.15)],
    });
    // Places in the figure's own frame, forward of the chest; the hook stands in the world.
    const own = (p: Vec): Vec => puppet.pointOf("ferryman", p);
    const toward = (a: Vec, b: Vec, x: number): Vec => [
      mix(a[0], b[0], x),
      mix(a[1], b[1], x) - 0.03 * Math.sin(Math.PI * x),
      mix(a[2], b[2], x) + 0.02 * Math.sin(Math.PI * x),
    ];
    const meeting = own([0.0, 0.53, 0.2]);
    const rightIdle = own([-0.18, 0.42, 0.08]);
    const leftIdle = own([0.18, 0.42, 0.05]);
    gripAt(puppet, "right", toward(rightIdle, meeting, give), [-0.5, -1, 0.5]);
    // The way up bulges forward, clear of the shoulder.
    const [x, y, z] = toward(toward(leftIdle, meeting, give), hook, raise);
    gripAt(puppet, "left", [x + BULGE * Math.sin(Math.PI * raise), y, z], [-0.4, -1, -0.5]);
    return dressSet(puppet, [0.45, 0.74, 3.0]);
  };
  let shot = sampleMotion(landingShot("demo-hand-over", "Hand over the lantern", 1, end), stand);
  shot = await simplified(shot, { rotation: 0.3, move: 0.001, together: "control" });
  const swing: Curve = curveFrom([
    [1, 0],
    [14, 5],
    [24, -6],
    [34, 4],
    [44, -7],
    [56, 8],
    [64, -9],
    [72, 6],
    [80, -2],
    [84, 0],
  ]);
  shot = { ...shot, base: { ...shot.base, "lantern-body.rotateX": swing, ...lanternInHand(shot, "right") } };
  // It hangs from whatever holds it, so it follows places and stays upright.
  const hangs = { position: true, rotation: false };
  shot = switchFollow(shot, "lantern", "hand-right", 1, hangs);
  shot = switchFollow(shot, "lantern", "hand-left", HAND_OVER, hangs);
  shot = switchFollow(shot, "lantern", "hook", HANG, hangs);
  return livingInHands(shot);
}

/** The lantern with keys of its own in what holds it: the right hand, the left one, the hook. */
async function livingInHands(shot: Shot): Promise<Shot> {
  const lantern: Scope = { ...WHOLE_FIGURE, controls: ["lantern"] };
  const baked = await bakeDown.run(shot, lantern, bakeDown.settings.parse({ keys: "every", afterwards: "removed" }), noContext);
  let living = baked.shot;
  for (const [space, frame] of [
    ["hand-right", 1],
    ["hand-left", HAND_OVER],
    ["hook", HANG],
  ] as const) {
    const told = switchSpace.settings.parse({ space, frame, keys: "fewest", rotation: 1.5, move: 0.004 });
    living = (await switchSpace.run(living, lantern, told, noContext)).shot;
  }
  return living;
}

/** The lantern's own keys: hung on a hand at the first frame, from where it follows. */
function lanternInHand(shot: Shot, side: "left" | "right"): Record<string, Curve> {
  const puppet = new Puppet();
  for (const key in shot.base) {
    const [id, channel] = key.split(".");
    puppet.set(id, { [`${channel[0]}${channel.at(-1)?.toLowerCase()}`]: shot.base[key].values[0] });
  }
  hangLantern(puppet, side);
  const held = puppet.snapshot();
  return Object.fromEntries(
    ["moveX", "moveY", "moveZ", "rotateX", "rotateY", "rotateZ"].map((channel) => [
      `lantern.${channel}`,
      curveFrom([[1, held[`lantern.${channel}`]]], Tangent.flat),
    ]),
  );
}
