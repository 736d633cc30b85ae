import type { Shot } from "@kneader/core";
import { landingShot, sampleMotion } from "../makeShot.ts";
import { mix, soft, wave } from "../motion.ts";
import { noiseFor } from "../noise.ts";
import type { Puppet } from "../puppet.ts";
import { dressSet, hangLantern, takeStance } from "../stance.ts";

/** Shot 4: waving the lantern, as it came from a capture stage: one noisy key a frame on every curve. */
export function capturedSignal(): Shot {
  const end = 120;
  const shot = landingShot("demo-captured-signal", "Captured signal", 1, end);
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
