import { catalogue, operationById } from "@kneader/core";
import { commands } from "../src/bench/commands/commands.ts";
import { findCommands, saySettings } from "../src/bench/commands/findCommands.ts";
import { spelt } from "../src/bench/commands/spelling.ts";

/*
 * What animators say, in either spelling, whole sentences and with numbers: what is meant is among the first three, and the number
 * stands in the card. Common practice: sayings of the trade, of no one program.
 */
const table: readonly [typed: string, wanted: readonly string[], settings?: Record<string, unknown>][] = [
  ["center of mass", ["fly", "tune"]],
  ["favor", ["favour"]],
  ["neighbor", ["favour"]],
  ["normalize", ["fit-values"]],
  ["quantize", ["snap-frames"]],
  ["extrapolation", ["run-on"]],
  ["oscillate", ["run-on"]],
  ["bounce back and forth", ["run-on"]],
  ["insert key", ["key-here"]],
  ["add a key", ["key-here"]],
  ["key everything", ["key-missing", "key-here"]],
  ["loop 5", ["run-on"], { rounds: 5 }],
  ["loop 5 travel", ["run-on"], { rounds: 5, kind: "travel" }],
  ["cycle 3 times", ["run-on"], { rounds: 3 }],
  ["hold 12", ["insert-hold"], { frames: 12 }],
  ["hold pose", ["insert-hold"]],
  ["freeze for 8", ["insert-hold"], { frames: 8 }],
  ["moving hold", ["insert-hold"]],
  ["on fours", ["stepping"], { show: "pattern", pattern: "4" }],
  ["on twos", ["stepping"], { show: "pattern", pattern: "2" }],
  ["on 3s", ["stepping"], { show: "pattern", pattern: "3" }],
  ["frame step 4", ["stepping"], { show: "pattern", pattern: "4" }],
  ["camera jitter", ["stepping"]],
  ["ride with camera", ["stepping"], { ride: true }],
  ["stutters against the camera", ["stepping"]],
  ["flip curve", ["scale-values"], { factor: -100 }],
  ["invert curve", ["scale-values"], { factor: -100 }],
  ["upside down", ["scale-values"], { factor: -100 }],
  ["scale curve", ["scale-values"]],
  ["exaggerate 120", ["scale-values"], { factor: 120 }],
  ["less 80", ["scale-values"], { factor: 80 }],
  ["rig x5", ["scale-rig"], { factor: 5 }],
  ["rig five times bigger", ["scale-rig"], { factor: 5 }],
  ["scale character 0.01", ["scale-rig"], { factor: 0.01 }],
  ["later by 3", ["stagger", "lag"], { step: 3 }],
  ["delay 4", ["stagger", "lag"]],
  ["slower 150", ["scale-time"], { factor: 150 }],
  ["twice as slow", ["scale-time"], { factor: 200 }],
  ["half the time", ["scale-time"], { factor: 50 }],
  ["mirror to 45", ["paste-mirrored"]],
  ["paste flipped", ["paste-mirrored"]],
  ["mirror animation", ["mirror-range"]],
  ["flip pose", ["mirror-pose"]],
  ["append mirrored", ["other-half"]],
  ["second half of the walk", ["other-half"]],
  ["noise", ["tremor", "smooth", "despike"]],
  ["shaky", ["tremor", "smooth", "despike"]],
  ["vibrate 2", ["tremor"], { rotate: 2 }],
  ["jitter", ["smooth", "despike", "tune"]],
  ["jittery hand", ["smooth", "despike", "tune"]],
  ["peaks", ["simplify"]],
  ["keep the peaks", ["simplify"]],
  ["snappy", ["set-tangents", "favour", "time-warp"]],
  ["slow in", ["set-tangents"]],
  ["ease out", ["set-tangents"]],
  ["T-pose", ["toward-rest"]],
  ["default pose", ["toward-rest"]],
  ["zero out", ["toward-rest"]],
  ["jump higher", ["fly"]],
  ["higher jump", ["fly"]],
  ["land on table", ["fly"]],
  ["hang time", ["fly"]],
  ["feet sliding", ["plant", "tune"]],
  ["foot slip", ["plant"]],
  ["sticky feet", ["plant"]],
  ["spring", ["overlap", "follow-through"]],
  ["drag on the tail", ["overlap"]],
  ["floppy ears", ["overlap"]],
  ["parent", ["switch-space", "follow"]],
  ["attach", ["switch-space"]],
  ["put it in the hand", ["switch-space"]],
  ["let go", ["bake-down", "switch-space"]],
  ["detach", ["bake-down", "switch-space"]],
  ["take out a control", ["bake-down"]],
  ["unparent keep motion", ["bake-down"]],
  ["smart bake", ["bake-passes"], { keys: "fewest" }],
  ["bake fewest keys", ["bake-passes", "bake-down"], { keys: "fewest" }],
  ["signed off", ["bake-passes"]],
  ["three versions", ["keep-version"]],
  ["idea B", ["keep-version"]],
  ["hide arms", ["isolate"]],
  ["front view", ["camera-front"]],
  ["through the camera", ["camera-shot"]],
  ["copy timing", ["set-timing"]],
  ["retarget", ["apply-action"]],
  ["put mocap on my character", ["apply-action"]],
  ["IK", ["reach"]],
  ["IK FK match", ["match-reach"]],
  ["overshoot", ["follow-through"]],
  ["symmetry", ["go-rig"]],
  ["gimbal", ["untwist"]],
  ["360 jump", ["untwist", "despike"]],
  ["too even", ["show-spacing"]],
  // Others that are not in the table they were made from.
  ["optimize", ["tune", "simplify"]],
  ["please simplify my curves now", ["simplify"]],
  ["xyzzy simplify", ["simplify"]],
  ["keys snap onto whole frames somehow", ["snap-frames"]],
  ["repeat 4", ["run-on"], { rounds: 4 }],
  ["insert a keyframe here", ["key-here"]],
  ["plant the feet please", ["plant"]],
  ["colour of my neighbour's theme", ["theme", "favour"]],
];

test.each(table.map(([typed, wanted, settings = null]) => ({ typed, wanted, settings })))("$typed", ({ typed, wanted, settings }) => {
  const found = findCommands(typed);
  const first = found.slice(0, 3).map(({ command }) => command.id);
  expect(first.some((id) => wanted.includes(id))).toBe(true);
  if (settings) {
    const [best] = found;
    expect(best.command.id).toBe(wanted[0]);
    expect(best.settings).toMatchObject(settings);
    expect(saySettings(best.settings ?? {})).toMatch(/^with \S/);
  }
});

test("what numbers fill in are settings that the operation has, and takes", () => {
  for (const [typed] of table)
    for (const { command, settings } of findCommands(typed))
      if (settings) {
        const operation = operationById(command.id);
        const refused = operation.settings.safeParse(settings).error?.issues ?? [];
        expect(refused.filter(({ path }) => String(path[0]) in settings)).toEqual([]);
      }
});

test("an unknown word never empties the list, and what nobody knows still finds the nearest", () => {
  for (const word of ["frobnicate", "wombat", "zzz"]) {
    expect(findCommands(`${word} simplify`)[0].command.id).toBe("simplify");
    expect(findCommands(`mirror ${word}`).length).toBeGreaterThan(3);
  }
  expect(findCommands("frobnicate")).toEqual([]);
});

test("about, and the name of an operation, is its page of help", () => {
  for (const { id, title } of catalogue) expect(findCommands(`about ${title.toLowerCase()}`)[0].command.id).toBe(`guide-${id}`);
});

test("both spellings find the same", () => {
  for (const [a, b] of [
    ["favor", "favour"],
    ["normalize", "normalise"],
    ["center of mass", "centre of mass"],
    ["quantize", "quantise"],
  ])
    expect(findCommands(a).slice(0, 3)).toEqual(findCommands(b).slice(0, 3));
  expect(["size", "prize", "seize"].map(spelt)).toEqual(["size", "prize", "seize"]);
});

test("words that say one program's name for a thing are not looked for, and no title says a thing twice", () => {
  for (const { title, words } of commands) {
    expect(`${title} ${words}`).not.toMatch(/plateau|jiggle|\bplot\b|unroll|puppet|graph editor/i);
    expect(title).not.toContain("(");
  }
});
