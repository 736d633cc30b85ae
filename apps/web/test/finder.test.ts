import { commands } from "../src/bench/commands/commands.ts";
import { findCommands } from "../src/bench/commands/findCommands.ts";
import { findByWords, nearestByWords } from "../src/bench/commands/findByWords.ts";

/*
 * What animators type, in plain words of the trade, and what must be among the first three then.
 * Common practice: the words come from how the work is spoken of, not from any one program.
 */
const table: readonly [typed: string, wanted: string][] = [
  ["simplify", "simplify"],
  ["fewer keys", "simplify"],
  ["thin out keys", "simplify"],
  ["reduce keys", "simplify"],
  ["clean up", "simplify"],
  ["noise", "smooth"],
  ["jitter", "smooth"],
  ["filter", "smooth"],
  ["smooth", "smooth"],
  ["spikes", "despike"],
  ["glitch", "despike"],
  ["gimbal", "untwist"],
  ["euler", "untwist"],
  ["360", "untwist"],
  ["idle keys", "reduce"],
  ["redundant", "reduce"],
  ["resample", "resample"],
  ["bake every frame", "resample"],
  ["tangents", "set-tangents"],
  ["interpolation", "set-tangents"],
  ["handles", "set-tangents"],
  ["break tangents", "set-tangents"],
  ["blocking", "convert-blocking"],
  ["spline the blocking", "convert-blocking"],
  ["stepped", "convert-blocking"],
  ["missing keys", "key-missing"],
  ["exaggerate", "scale-values"],
  ["scale keys", "scale-values"],
  ["amplitude", "scale-values"],
  ["negate", "scale-values"],
  ["offset keys", "shift-values"],
  ["raise", "shift-values"],
  ["normalise", "fit-values"],
  ["in-between", "favour"],
  ["breakdown", "favour"],
  ["tween", "favour"],
  ["favour", "favour"],
  ["rest pose", "toward-rest"],
  ["reset", "toward-rest"],
  ["match ends", "match-ends"],
  ["resize rig", "scale-rig"],
  ["bigger character", "scale-rig"],
  ["gap", "set-gap"],
  ["retime", "set-timing"],
  ["timing", "set-timing"],
  ["chart", "set-timing"],
  ["move pose", "move-pose"],
  ["hold", "insert-hold"],
  ["pause", "insert-hold"],
  ["freeze", "insert-hold"],
  ["insert frames", "insert-frames"],
  ["add time", "insert-frames"],
  ["even spacing", "even-gaps"],
  ["speed up", "scale-time"],
  ["slow down", "scale-time"],
  ["faster", "scale-time"],
  ["stretch time", "scale-time"],
  ["stagger", "stagger"],
  ["successive", "stagger"],
  ["snap", "snap-frames"],
  ["whole frames", "snap-frames"],
  ["reverse", "reverse"],
  ["backwards", "reverse"],
  ["time warp", "time-warp"],
  ["ramp", "time-warp"],
  ["on twos", "stepping"],
  ["threes", "stepping"],
  ["stop motion", "stepping"],
  ["paste", "paste-keys"],
  ["duplicate", "paste-keys"],
  ["append", "paste-keys"],
  ["mirror keys", "paste-keys-mirrored"],
  ["flip", "paste-mirrored"],
  ["mirror", "mirror-pose"],
  ["other half", "other-half"],
  ["seam", "close-cycle"],
  ["close loop", "close-cycle"],
  ["loop", "run-on"],
  ["cycle", "close-cycle"],
  ["forever", "run-on"],
  ["ping-pong", "run-on"],
  ["bake loop", "bake-loop"],
  ["paste pose", "paste-pose"],
  ["copy pose", "copy-pose"],
  ["swap", "swap-poses"],
  ["delete pose", "remove-poses"],
  ["overlap", "overlap"],
  ["tail", "overlap"],
  ["gravity", "overlap"],
  ["secondary", "overlap"],
  ["spring", "follow-through"],
  ["follow through", "follow-through"],
  ["delay", "lag"],
  ["shake", "tremor"],
  ["additive", "add-pass"],
  ["layer", "add-pass"],
  ["override", "add-replacing-pass"],
  ["mute", "mute-pass"],
  ["solo", "solo-pass"],
  ["lock ends", "lock-ends"],
  ["merge", "bake-passes"],
  ["flatten", "bake-passes"],
  ["version", "keep-version"],
  ["iteration", "keep-version"],
  ["aim", "aim"],
  ["attach", "switch-space"],
  ["foot slide", "plant"],
  ["carrier", "carrier"],
  ["unparent", "bake-down"],
  ["constraint", "follow"],
  ["save action", "save-action"],
  ["store pose", "save-action"],
  ["apply action", "apply-action"],
  ["library", "go-pantry"],
  ["record", "record"],
  ["flight", "fly"],
  ["jump", "fly"],
  ["gravity", "fly"],
  ["live", "record"],
  ["clean capture", "clean-capture"],
  ["keyframe", "key-here"],
  ["select all", "pick-all"],
  ["undo", "undo"],
  ["export", "export"],
  ["gltf", "export"],
  ["import", "import"],
  ["open file", "import"],
  ["compare", "go-compare"],
  ["before after", "go-compare"],
  ["ghost", "ghosts"],
  ["onion", "ghosts"],
  ["trail", "arc"],
  ["motion path", "arc"],
  ["silhouette", "look-silhouette"],
  ["graph", "show-curves"],
  ["curves", "show-curves"],
  ["sheet", "show-sheet"],
  ["spacing", "show-spacing"],
  ["camera", "camera-shot"],
  ["orbit", "camera-free"],
  ["side view", "camera-side"],
  ["grid", "set-shown"],
  ["full screen", "full-screen"],
  ["layout", "next-layout"],
  ["frame rate", "frame-rate"],
  ["fps", "frame-rate"],
  ["play", "play-pause"],
  ["settings", "go-settings"],
  ["shortcuts", "go-settings"],
  ["dark mode", "theme"],
  ["history", "history"],
  ["help", "help"],
  ["shots", "go-shelf"],
  ["pull", "pull-way"],
  ["ik", "reach"],
  ["pull way", "pull-way"],
  ["zoom", "fit"],
  ["isolate", "isolate"],
  ["lock", "lock-picked"],
  ["deselect", "whole-figure"],
];

describe("the finder", () => {
  test("its table has at least 120 plain words", () => {
    expect(new Set(table.map(([typed]) => typed)).size).toBeGreaterThanOrEqual(120);
  });

  test.each(table)('"%s" finds %s among the first three', (typed, wanted) => {
    expect(
      findCommands(typed)
        .slice(0, 3)
        .map(({ command }) => command.id),
    ).toContain(wanted);
  });

  test("beginnings of words count, insides do not", () => {
    expect(findByWords(commands, "simpl")[0].id).toBe("simplify");
    for (const inside of ["lean", "implify", "oop"]) expect(findByWords(commands, inside)).toEqual([]);
  });

  test("a word of the title comes before another word for it, and that before one of the help", () => {
    const items = [
      { id: "help", title: "One", words: "", help: "It is about salmon." },
      { id: "words", title: "Two", words: "salmon", help: "" },
      { id: "title", title: "Three salmon", words: "", help: "" },
    ];
    expect(findByWords(items, "salmon").map(({ id }) => id)).toEqual(["title", "words", "help"]);
  });

  test("what has no name has three nearest", () => {
    expect(findByWords(commands, "simplfy")).toEqual([]);
    const near = nearestByWords(commands, "simplfy");
    expect(near).toHaveLength(3);
    expect(near[0].id).toBe("simplify");
  });

  test("every command has a title and an id of its own", () => {
    expect(new Set(commands.map(({ id }) => id)).size).toBe(commands.length);
    expect(new Set(commands.map(({ title }) => title)).size).toBe(commands.length);
  });
});
