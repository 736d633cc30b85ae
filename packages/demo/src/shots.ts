import { type Curve, curveFrom, type Shot, simplified, switchFollow, Tangent } from "@kneader/core";
import { emptyShot, keyedMotion, sampleMotion } from "./makeShot.ts";
import { noiseFor } from "./noise.ts";
import { Puppet, type Vec } from "./puppet.ts";
import { dressSet, GRIP, hangLantern, type Stance, takeStance } from "./stance.ts";

const TAU = Math.PI * 2;
const wave = (turns: number) => Math.sin(turns * TAU);
const soft = (x: number) => {
  const t = Math.min(1, Math.max(0, x));
  return t * t * (3 - 2 * t);
};
const mix = (a: number, b: number, x: number) => a + (b - a) * x;

const STEP = 0.24;
const HALF = 12;

/** Where a foot is in the walk, relative to the figure: forward, height, pitch. `u` runs 0..2 a cycle. */
function walkFoot(u: number): Vec {
  if (u < 1) {
    // On the ground it goes back as the figure goes forward; heel first, toes last.
    const pitch = u < 0.18 ? mix(-16, 0, soft(u / 0.18)) : u > 0.75 ? mix(0, 24, soft((u - 0.75) / 0.25)) : 0;
    return [STEP * (0.5 - u), pitch > 0 ? 0.03 * soft((u - 0.75) / 0.25) : 0, pitch];
  }
  const s = u - 1;
  const lift = 0.03 * (1 - soft(s / 0.3)) + 0.062 * Math.sin(Math.PI * s) ** 1.2;
  return [STEP * (-0.5 + soft(s * 0.92 + 0.08 * s * s)), lift, mix(24, -16, soft(s))];
}

/** The walk at a number of steps from left contact. */
function walkStance(steps: number): Stance {
  const c = steps / 2;
  const bounce = Math.cos(steps * TAU + 0.9);
  return {
    x: -1.1 + STEP * steps,
    up: -0.034 + 0.013 * -bounce,
    along: 0.006 * wave(steps),
    hips: [4, -9 * Math.cos(c * TAU), 3.5 * wave(c + 0.02)],
    belly: [2, 5 * Math.cos(c * TAU), -2 * wave(c)],
    chest: [3 + 1.2 * bounce, 10 * Math.cos(c * TAU - 0.25), -3 * wave(c)],
    neck: [-2, -2 * Math.cos(c * TAU), 0],
    head: [-4 - 1.6 * Math.cos(steps * TAU - 0.2), -4 * Math.cos(c * TAU - 0.3), 1.5 * wave(c + 0.1)],
    footLeft: walkFoot(((steps % 2) + 2) % 2),
    footRight: walkFoot((((steps + 1) % 2) + 2) % 2),
    armLeft: [-27 * Math.cos(c * TAU - 0.2), 11, 22 - 11 * Math.cos(c * TAU - 0.7)],
    armRight: [27 * Math.cos(c * TAU - 0.2), 11, 22 + 11 * Math.cos(c * TAU - 0.7)],
    wristLeft: [-8 * Math.cos(c * TAU - 1.1), 0, 0],
    wristRight: [8 * Math.cos(c * TAU - 1.1), 0, 0],
    tail: [
      8 + 4 * Math.cos(steps * TAU - 0.6),
      4 + 5 * Math.cos(steps * TAU - 1.3),
      -6 + 6 * Math.cos(steps * TAU - 2),
      -10 + 7 * Math.cos(steps * TAU - 2.7),
    ],
    sway: [7 * wave(c - 0.05), 9 * wave(c - 0.15), 11 * wave(c - 0.25), 13 * wave(c - 0.35)],
    tassel: [10 + 9 * Math.cos(steps * TAU - 1.4), 14 + 15 * Math.cos(steps * TAU - 2.3)],
    tasselSway: [7 * wave(c - 0.2), 12 * wave(c - 0.32)],
    ears: 4 * Math.cos(steps * TAU - 1),
  };
}

/** Shot 1: the first half of a walk along the jetty. */
export async function halfAWalk(): Promise<Shot> {
  const shot = sampleMotion(emptyShot("demo-half-a-walk", "Half a walk", 1, 1 + HALF), (frame) =>
    dressSet(takeStance(walkStance((frame - 1) / HALF)), [-0.6, 0.72, 3.2]),
  );
  return simplified(shot, { rotation: 0.5, move: 0.001, together: "figure" });
}

const hopPoses: readonly (readonly [string, Stance])[] = [
  [
    "Stand",
    {
      x: 0.1,
      up: -0.02,
      hips: [2, 0, 0],
      chest: [3, 0, 0],
      head: [-3, 0, 0],
      armLeft: [6, 8, 15],
      armRight: [2, 8, 18],
      tail: [6, 2, -8, -10],
    },
  ],
  [
    "Look",
    {
      x: 0.1,
      up: -0.025,
      hips: [6, 0, 0],
      chest: [8, -6, 0],
      neck: [4, 0, 0],
      head: [12, -4, 3],
      armLeft: [12, 14, 24],
      armRight: [-4, 14, 22],
      tail: [10, 6, -4, -8],
    },
  ],
  [
    "Crouch",
    {
      x: 0.1,
      up: -0.15,
      along: -0.05,
      hips: [28, 0, 0],
      belly: [14, 0, 0],
      chest: [16, 0, 0],
      neck: [-14, 0, 0],
      head: [-26, 0, 0],
      armLeft: [-62, 16, 12],
      armRight: [-58, 16, 14],
      tail: [30, 16, 8, 4],
      tassel: [-10, -16],
    },
  ],
  [
    "Launch",
    {
      x: 0.34,
      up: 0.06,
      along: 0.1,
      hips: [30, 0, 0],
      belly: [-6, 0, 0],
      chest: [-8, 0, 0],
      neck: [-10, 0, 0],
      head: [-12, 0, 0],
      footLeft: [-0.13, 0.035, 42],
      footRight: [-0.19, 0.04, 46],
      armLeft: [85, 20, 16],
      armRight: [80, 20, 18],
      tail: [-16, -12, -10, -8],
      tassel: [40, 44],
    },
  ],
  [
    "Rise",
    {
      x: 0.86,
      up: 0.3,
      hips: [22, 0, 0],
      belly: [2, 0, 0],
      chest: [2, 0, 0],
      neck: [-8, 0, 0],
      head: [-10, 0, 0],
      footLeft: [-0.02, 0.3, 30],
      footRight: [-0.12, 0.28, 40],
      armLeft: [118, 26, 20],
      armRight: [110, 26, 24],
      tail: [-22, -16, -10, -4],
      tassel: [48, 40],
    },
  ],
  [
    "Top",
    {
      x: 1.2,
      up: 0.36,
      hips: [10, 0, 0],
      belly: [10, 0, 0],
      chest: [8, 0, 0],
      neck: [-4, 0, 0],
      head: [4, 0, 0],
      footLeft: [0.13, 0.42, -8],
      footRight: [0.05, 0.4, 8],
      armLeft: [96, 42, 26],
      armRight: [88, 42, 28],
      tail: [4, 10, 14, 16],
      tassel: [6, 18],
      jaw: 8,
    },
  ],
  [
    "Reach",
    {
      x: 1.52,
      up: 0.18,
      hips: [-6, 0, 0],
      belly: [10, 0, 0],
      chest: [10, 0, 0],
      neck: [2, 0, 0],
      head: [12, 0, 0],
      footLeft: [0.18, 0.16, -18],
      footRight: [0.11, 0.18, -10],
      armLeft: [40, 52, 24],
      armRight: [34, 52, 26],
      tail: [26, 24, 20, 16],
      tassel: [-18, -6],
    },
  ],
  [
    "Squash",
    {
      x: 1.7,
      up: -0.17,
      along: 0.0,
      hips: [26, 0, 0],
      belly: [16, 0, 0],
      chest: [14, 0, 0],
      neck: [-6, 0, 0],
      head: [-8, 0, 0],
      footLeft: [0.06, 0, 0],
      footRight: [0.0, 0, 0],
      armLeft: [-12, 40, 40],
      armRight: [-16, 40, 42],
      tail: [-8, -14, -18, -20],
      tassel: [-30, -34],
      jaw: 4,
    },
  ],
  [
    "Come up",
    {
      x: 1.7,
      up: 0.005,
      along: 0.03,
      hips: [4, 0, 0],
      chest: [-4, 0, 0],
      neck: [0, 0, 0],
      head: [2, 0, 0],
      footLeft: [0.06, 0, 0],
      footRight: [0.0, 0, 0],
      armLeft: [30, 24, 20],
      armRight: [26, 24, 24],
      tail: [20, 12, 4, -2],
      tassel: [26, 30],
    },
  ],
  [
    "Settle",
    {
      x: 1.7,
      up: -0.02,
      along: 0.025,
      hips: [3, 0, 0],
      chest: [3, 0, 0],
      head: [-3, 4, 0],
      footLeft: [0.06, 0, 0],
      footRight: [0.0, 0, 0],
      armLeft: [6, 9, 16],
      armRight: [2, 9, 18],
      tail: [6, 2, -8, -10],
    },
  ],
];

/** The ferryman at ease with the lantern in his left hand: what saved actions are shown on. */
export function standingFerryman(): Shot {
  const ease: Stance = {
    x: 0,
    heading: 80,
    up: -0.02,
    hips: [2, 0, 0],
    chest: [3, 0, 0],
    head: [-3, 0, 0],
    armLeft: [6, 8, 15],
    gripLeft: 0.95,
    armRight: [2, 8, 18],
    tail: [6, 2, -8, -10],
  };
  const shot = keyedMotion(
    { ...emptyShot("demo-standing", "Standing", 0, 0), set: null },
    [[0, hangLantern(takeStance(ease), "left")]],
    Tangent.flat,
  );
  return switchFollow(shot, "lantern", "hand-left", 0, { position: true, rotation: false });
}

/** Shot 2: a hop from the jetty to the ferry, blocked in stepped poses five frames apart. */
export function hopAboard(): Shot {
  const poses = hopPoses.map(([, stance], i) => [1 + 5 * i, dressSet(takeStance(stance), [0.95, 0.82, 5.4])] as const);
  return keyedMotion(emptyShot("demo-hop-aboard", "Hop aboard", 1, 1 + 5 * (hopPoses.length - 1)), poses, Tangent.stepped);
}

const HAND_OVER = 28;
const HANG = 60;

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
    const breath = wave(frame / 42);
    const puppet = takeStance({
      x: 0.34,
      heading: 90,
      up: -0.03 - 0.01 * give + 0.026 * raise,
      along: 0.035 * raise,
      hips: [3 + 3 * raise, 6 * give - 8 * raise, 0],
      belly: [3 + 0.5 * breath, 3 * give - 5 * raise, 0],
      chest: [3 + breath + 3 * raise, 5 * give - 9 * raise, -4 * raise],
      neck: [2 - 3 * raise, -3 * give, 0],
      head: [9 * give - 15 * raise + 0.6 * breath, -8 * give + 4 * raise, 0],
      footLeft: [0.03, 0, 0],
      footRight: [-0.04, 0.02 * raise, 14 * raise],
      gripRight: mix(0.95, 0.2, soft((frame - HAND_OVER - 1) / 6)),
      gripLeft: mix(0.2, 0.95, soft((frame - HAND_OVER + 6) / 6)) * (1 - 0.8 * soft((frame - HANG - 1) / 6)),
      tail: [
        6 + 2 * wave(frame / 42 - 0.1) - 6 * raise,
        2 + 3 * wave(frame / 42 - 0.2) - 4 * raise,
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
    gripAt(puppet, "left", toward(toward(leftIdle, meeting, give), hook, raise), [-0.4, -1, -0.5]);
    return dressSet(puppet, [0.45, 0.74, 3.0]);
  };
  let shot = sampleMotion(emptyShot("demo-hand-over", "Hand over the lantern", 1, end), stand);
  shot = await simplified(shot, { rotation: 0.4, move: 0.001, together: "control" });
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
  return switchFollow(shot, "lantern", "hook", HANG, hangs);
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

/** Shot 4: waving the lantern, as it came from a capture stage: one noisy key a frame on every curve. */
export function capturedSignal(): Shot {
  const end = 120;
  const shot = emptyShot("demo-captured-signal", "Captured signal", 1, end);
  const clean = (frame: number): Puppet => {
    const t = (frame - 1) / 24;
    const lift = soft((frame - 10) / 22) * (1 - soft((frame - 96) / 18));
    const swing = wave(t / 1.4) * lift;
    const trail = (lag: number) => wave(t / 1.4 - lag) * lift;
    const puppet = takeStance({
      x: -0.15,
      z: 0,
      heading: 38 + 4 * trail(0.06),
      up: -0.03 - 0.012 * Math.abs(swing) - 0.02 * soft((frame - 4) / 8) * (1 - soft((frame - 12) / 12)),
      along: 0.008 * swing,
      hips: [2 + 2 * lift, 6 * swing, 4 * swing],
      belly: [2, 4 * trail(0.04), 3 * trail(0.05)],
      chest: [-4 * lift + 2, 9 * trail(0.07), 5 * trail(0.08)],
      neck: [0, -3 * swing, 0],
      head: [-8 * lift, -8 * trail(0.12), -4 * trail(0.14)],
      jaw: 6 * Math.max(0, wave(t / 0.7)) * lift,
      footLeft: [0.03, 0, 0],
      footRight: [-0.03, 0, 0],
      armLeft: [mix(6, 148, lift) + 8 * trail(0.03), 12 + lift * (18 + 34 * swing), mix(16, 34, lift) - 16 * trail(0.1)],
      armRight: [4 - 14 * trail(0.1), 10 + 8 * lift, 18 + 10 * lift],
      wristLeft: [14 * trail(0.16), 10 * trail(0.2), 22 * trail(0.14)],
      gripLeft: 0.95,
      tail: [6 + 5 * trail(0.1), 2 + 6 * trail(0.18), -8 + 8 * trail(0.26), -10 + 10 * trail(0.34)],
      sway: [-6 * trail(0.08), -10 * trail(0.16), -13 * trail(0.25), -16 * trail(0.34)],
      tassel: [8 + 6 * trail(0.2), 12 + 12 * trail(0.3)],
      tasselSway: [9 * trail(0.15), 18 * trail(0.26)],
      ears: 4 * trail(0.2),
    });
    hangLantern(puppet, "left", 22 * trail(0.25), -18 * trail(0.22));
    return dressSet(puppet, [-0.2, 0.8, 3.0]);
  };
  const motion = sampleMotion(shot, clean);
  const base = Object.fromEntries(
    Object.entries(motion.base).map(([key, curve]) => {
      const still = /^(ferry|shot-camera|hook)\./.test(key) || curve.times.length < 2;
      return [key, still ? curve : noiseFor(key, curve)];
    }),
  );
  return { ...motion, base };
}

/** Shot 5: an idle on board that loops while the ferry rocks and the camera drifts. */
export async function waitingOnBoard(): Promise<Shot> {
  const length = 72;
  const shot = sampleMotion(emptyShot("demo-waiting", "Waiting on board", 1, 1 + length), (frame) => {
    const c = (frame - 1) / length;
    const rock = 2.2 * wave(c);
    const bob = 0.012 * wave(2 * c + 0.1);
    const puppet = takeStance({
      x: 1.95,
      heading: 55,
      up: -0.035 + 0.006 * wave(2 * c) + bob,
      along: 0.012 * wave(c - 0.08),
      hips: [3 - 0.5 * rock, 3 * wave(c + 0.1), -0.9 * rock],
      belly: [3 + 1.2 * wave(2 * c + 0.2), 0, 0.6 * rock],
      chest: [3 + 1.6 * wave(2 * c + 0.15), 3 * wave(c), 0.5 * rock],
      neck: [1, 4 * wave(c - 0.1), 0],
      head: [-3 + 2 * wave(2 * c - 0.1), 14 * wave(c - 0.12), 2 * wave(c - 0.2)],
      footLeft: [0.03, bob, 0],
      footRight: [-0.03, bob, 0],
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
  return simplified(shot, { rotation: 0.4, move: 0.001, together: "control" });
}
