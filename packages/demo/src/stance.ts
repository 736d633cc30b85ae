import { Puppet, type Vec } from "./puppet.ts";

/** A whole pose in an animator's terms; angles in degrees, places in metres in the world. */
export interface Stance {
  /** Where the figure stands and which way it looks (90 is along the jetty). */
  x: number;
  z?: number;
  heading?: number;
  /** Hips: height above their rest, shift along the heading, lean, turn and tilt. */
  up?: number;
  along?: number;
  hips?: Vec;
  belly?: Vec;
  chest?: Vec;
  neck?: Vec;
  head?: Vec;
  jaw?: number;
  /** Ankles relative to x/z along the heading: forward, height above the ground, pitch of the sole. */
  footLeft?: Vec;
  footRight?: Vec;
  /** Upper arm: swing forward, out, twist; elbow bend. */
  armLeft?: [swing: number, out: number, elbow: number];
  armRight?: [swing: number, out: number, elbow: number];
  wristLeft?: Vec;
  wristRight?: Vec;
  /** How far the fingers are closed, 0..1. */
  gripLeft?: number;
  gripRight?: number;
  /** Bend of the four tail links (up is positive) and their sway. */
  tail?: [number, number, number, number];
  sway?: [number, number, number, number];
  tassel?: [number, number];
  tasselSway?: [number, number];
  ears?: number;
}

const GROUND = 0.055;

/** Pose a puppet by a stance. */
export function takeStance(s: Stance, puppet = new Puppet()): Puppet {
  const heading = s.heading ?? 90;
  puppet.set("ferryman", { mx: s.x, my: 0, mz: s.z ?? 0, rx: 0, ry: heading, rz: 0 });
  const turn = (id: string, angles: Vec = [0, 0, 0]) => puppet.set(id, { rx: angles[0], ry: angles[1], rz: angles[2] });
  puppet.set("hips", { mx: 0, my: s.up ?? 0, mz: s.along ?? 0 });
  turn("hips", s.hips);
  turn("belly", s.belly);
  turn("chest", s.chest);
  turn("neck", s.neck);
  turn("head", s.head);
  turn("jaw", [s.jaw ?? 0, 0, 0]);
  turn("cap", [0, 0, 0]);
  for (const side of ["left", "right"] as const) {
    const sign = side === "left" ? 1 : -1;
    const [swing, out, elbow] = (side === "left" ? s.armLeft : s.armRight) ?? [0, 6, 12];
    turn(`shoulder-${side}`, [0, 0, 0]);
    turn(`upper-arm-${side}`, [-swing, 0, sign * out]);
    turn(`forearm-${side}`, [-elbow, 0, 0]);
    turn(`hand-${side}`, (side === "left" ? s.wristLeft : s.wristRight) ?? [0, 0, 0]);
    const grip = (side === "left" ? s.gripLeft : s.gripRight) ?? 0.25;
    turn(`thumb-${side}`, [20 * grip, 0, -sign * 35 * grip]);
    for (const finger of [1, 2, 3]) {
      turn(`finger-${finger}-${side}`, [-70 * grip - finger * 3, 0, 0]);
      turn(`finger-${finger}-tip-${side}`, [-80 * grip, 0, 0]);
    }
    turn(`ear-${side}`, [s.ears ?? 0, 0, 0]);
    const [ahead, height, pitch] = (side === "left" ? s.footLeft : s.footRight) ?? [0, 0, 0];
    const radians = (heading * Math.PI) / 180;
    const aside = sign * 0.085;
    const target: Vec = [
      s.x + Math.sin(radians) * ahead + Math.cos(radians) * aside,
      GROUND + height,
      (s.z ?? 0) + Math.cos(radians) * ahead - Math.sin(radians) * aside,
    ];
    const pole: Vec = [Math.sin(radians), 0, Math.cos(radians)];
    puppet.reach(`thigh-${side}`, `shin-${side}`, `foot-${side}`, target, pole);
    puppet.level(`foot-${side}`, heading, pitch);
    turn(`toes-${side}`, [Math.min(0, -pitch * 0.6), 0, 0]);
  }
  const tail = s.tail ?? [0, 0, 0, 0];
  const sway = s.sway ?? [0, 0, 0, 0];
  tail.forEach((bend, i) => {
    turn(`tail-${i + 1}`, [bend, sway[i], 0]);
  });
  const tassel = s.tassel ?? [0, 0];
  const tasselSway = s.tasselSway ?? [0, 0];
  tassel.forEach((bend, i) => {
    turn(`tassel-${i + 1}`, [bend, 0, tasselSway[i]]);
  });
  return puppet;
}

/** Where the fingers close, in the hand's own frame. */
export const GRIP: Vec = [0, -0.045, 0.012];

/** Hang the lantern in a hand: its grip where the fingers close, upright but for a swing. */
export function hangLantern(puppet: Puppet, side: "left" | "right", swing = 0, sway = 0): Puppet {
  const [x, y, z] = puppet.pointOf(`hand-${side}`, GRIP);
  puppet.set("lantern", { mx: x, my: y - 0.45, mz: z - 0.1, rx: 0, ry: 90, rz: 0 });
  puppet.set("lantern-body", { rx: swing, ry: 0, rz: sway });
  return puppet;
}

/** The set at rest: ferry afloat, camera where it frames the figure, the lantern on its hook unless it is carried. */
export function dressSet(puppet: Puppet, camera: Vec = [0.4, 0.72, 3.5], rock = 0, bob = 0): Puppet {
  if (!("lantern.moveX" in puppet.snapshot())) puppet.set("lantern", { mx: 0.62, my: 0.9 - 0.45, mz: -0.18 - 0.1, rx: 0, ry: 90, rz: 0 });
  puppet.set("ferry", { mx: 0, my: bob, mz: 0, rx: rock * 0.4, ry: 0, rz: rock });
  puppet.set("shot-camera", { mx: camera[0] - 0.4, my: camera[1] - 0.72, mz: camera[2] - 3.5, rx: -3, ry: 0, rz: 0 });
  return puppet;
}
