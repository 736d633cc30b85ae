import { BASE, type Curve, sampleCurve, type Shot, splitChannelKey, WHOLE_FIGURE } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { keyName, sayShortcut } from "../src/bench/commandKeys.ts";
import { clock } from "../src/bench/clock.ts";
import { currentDocument, shownDocument, useDocuments } from "../src/bench/documents.ts";
import {
  addPass,
  changePass,
  keyHere,
  movePass,
  nudgePicked,
  ownValue,
  pickKeysHere,
  removePass,
  removePicked,
  setRangeEnd,
  tangentPicked,
  typeValue,
} from "../src/bench/edits.ts";
import { mention, tell, useNotices } from "../src/bench/notices.ts";
import { currentScope, useSelection } from "../src/bench/selection.ts";
import { followPointer } from "../src/bench/followPointer.ts";
import "../src/bench/session.ts";

const hop = demoShots[1].make() as Shot;
const documents = () => useDocuments.getState();
const shot = () => currentDocument() as Shot;
const curve = (key: string): Curve => shot().base[key];

beforeEach(() => {
  useDocuments.setState({ open: {}, current: null, preview: null });
  documents().add(hop, false);
  documents().show(hop.id);
  useSelection.setState({ controls: [], channels: [], keys: {}, range: null, layer: BASE, copiedPose: null });
  clock.set(11);
});

describe("the document", () => {
  test("each change is one step that can be undone and redone", () => {
    typeValue("hips.moveY", 0.2);
    typeValue("hips.moveY", 0.3);
    documents().undo();
    expect(sampleCurve(curve("hips.moveY"), 11)).toBe(0.2);
    documents().undo();
    expect(shot()).toBe(hop);
    documents().redo();
    documents().redo();
    expect(sampleCurve(curve("hips.moveY"), 11)).toBe(0.3);
  });

  test("a preview is shown and never becomes the document", () => {
    documents().setPreview({ ...hop, name: "tried" });
    expect(shownDocument()?.name).toBe("tried");
    expect(shot()).toBe(hop);
    typeValue("hips.moveY", 0.2);
    expect(documents().preview).toBeNull();
  });

  test("nothing can be changed while another tab has the shot", () => {
    documents().setReadOnly(hop.id, true);
    typeValue("hips.moveY", 0.2);
    addPass();
    expect(shot()).toBe(hop);
    documents().undo();
    documents().setReadOnly(hop.id, false);
    addPass();
    expect(shot().passes).toHaveLength(1);
  });

  test("a change to the same shot is no step", () => {
    documents().change("nothing", hop, { operation: "change-shot", scope: WHOLE_FIGURE, settings: {} });
    expect(documents().open[hop.id].history.steps).toHaveLength(1);
  });

  test("closing forgets the shot", () => {
    documents().close(hop.id);
    expect(currentDocument()).toBeNull();
  });
});

describe("keys by hand", () => {
  test("keying here keys every channel of the figure as it stands", () => {
    clock.set(13);
    keyHere();
    const scenery = new Set(hop.rig.controls.filter(({ role }) => role === "set" || role === "camera").map(({ id }) => id));
    for (const key in hop.base) {
      // Set and camera are keyed only when they are picked.
      if (scenery.has(splitChannelKey(key).control)) {
        expect(curve(key)).toBe(hop.base[key]);
        continue;
      }
      expect([...curve(key).times]).toContain(13);
      expect(sampleCurve(curve(key), 13)).toBe(sampleCurve(hop.base[key], 13));
    }
  });

  test("with controls picked only theirs, also channels that had no curve", () => {
    useSelection.getState().pickControls(["hook"]);
    clock.set(13);
    keyHere();
    expect(Object.keys(shot().base)).toContain("hook.rotateX");
    expect(curve("hips.moveY")).toBe(hop.base["hips.moveY"]);
  });

  test("picking here, making them flat, nudging, removing", async () => {
    useSelection.getState().pickControls(["tail-2"]);
    pickKeysHere();
    expect(currentScope().keys).toEqual({ "tail-2.rotateX": [11], "tail-2.rotateY": [11], "tail-2.rotateZ": [11] });
    await tangentPicked("flat");
    expect(curve("tail-2.rotateX").kindOut[2]).toBe(2);
    nudgePicked(2, 5);
    expect([...curve("tail-2.rotateX").times]).toContain(13);
    expect(useSelection.getState().keys["tail-2.rotateX"]).toEqual([13]);
    removePicked();
    expect([...curve("tail-2.rotateX").times]).not.toContain(13);
    expect(currentScope().keys).toBeNull();
  });

  test("a curve that loses all its keys goes", () => {
    useSelection.getState().pickKeys({ "tail-2.rotateX": [...hop.base["tail-2.rotateX"].times] });
    removePicked();
    expect("tail-2.rotateX" in shot().base).toBe(false);
    documents().undo();
    expect(shot()).toBe(hop);
  });

  test("nothing picked changes nothing", async () => {
    removePicked();
    await tangentPicked("flat");
    expect(shot()).toBe(hop);
  });
});

test("of two things told at one go none is lost", () => {
  useNotices.setState({ waiting: [] });
  mention("Rounds became keys.");
  tell("It cannot go there.");
  expect(useNotices.getState().waiting.map(({ kind, text }) => [kind, text])).toEqual([
    ["said", "Rounds became keys."],
    ["refused", "It cannot go there."],
  ]);
});

describe("passes", () => {
  test("are added with names of their own and become the layer keys go to", () => {
    addPass();
    addPass("replaces");
    expect(shot().passes.map(({ name, kind }) => [name, kind])).toEqual([
      ["Pass 1", "adds"],
      ["Pass 2", "replaces"],
    ]);
    const [, second] = shot().passes;
    expect(useSelection.getState().layer).toBe(second.id);
    typeValue("chest.rotateX", 12);
    expect(shot().base).toBe(hop.base);
    // A replacing pass begins as what is below plays, and only the key differs.
    expect(ownValue(shot(), second.id, "chest.rotateX", clock.frame)).toBe(12);
    expect(ownValue(shot(), second.id, "chest.rotateX", 40)).toBe(sampleCurve(hop.base["chest.rotateX"], 40));
    expect(useNotices.getState().waiting.at(-1)?.text).toMatch(
      /"Pass 2" has taken 1 channel as it plays now, and hides what is below it\./,
    );
    expect(ownValue(shot(), second.id, "chest.rotateY", 40)).toBe(0);
    expect(ownValue(shot(), BASE, "chest.scaleX", 40)).toBe(1);
  });

  test("are moved in the stack as far as it goes, changed, and removed", () => {
    for (let n = 0; n < 3; n++) addPass();
    const [a, b, c] = shot().passes.map((pass) => pass.id);
    movePass(a, 1);
    expect(shot().passes.map((pass) => pass.id)).toEqual([b, a, c]);
    movePass(a, 99);
    expect(shot().passes.map((pass) => pass.id)).toEqual([b, c, a]);
    const before = shot();
    movePass(a, 1);
    movePass("gone", 1);
    expect(shot()).toBe(before);
    changePass(b, { on: false });
    expect(shot().passes[0].on).toBe(false);
    useSelection.getState().setLayer(c);
    removePass(c);
    expect(shot().passes.map((pass) => pass.id)).toEqual([b, a]);
    expect(useSelection.getState().layer).toBe(BASE);
  });
});

describe("ranges", () => {
  test("ends are set at the playhead; one past the other starts anew", () => {
    setRangeEnd("start");
    expect(useSelection.getState().range).toEqual({ start: 11, end: 46 });
    clock.set(20);
    setRangeEnd("end");
    expect(currentScope().range).toEqual({ start: 11, end: 20 });
    clock.set(30);
    setRangeEnd("start");
    expect(currentScope().range).toEqual({ start: 30, end: 30 });
  });
});

describe("shortcuts in words", () => {
  test.each([
    ["mod+shift+z", "Ctrl Shift Z"],
    ["bracketleft", "["],
    ["shift+arrowright", "Shift →"],
    ["delete", "Del"],
    ["", ""],
  ])("%s is %s", (keys, said) => {
    expect(sayShortcut(keys)).toBe(said);
  });

  test.each([
    ["KeyZ", "z"],
    ["Digit1", "1"],
    ["BracketLeft", "bracketleft"],
    ["Space", "space"],
  ])("the key %s is called %s", (code, name) => {
    expect(keyName(code)).toBe(name);
  });
});

describe("following the pointer", () => {
  const target = new EventTarget();
  const seen: string[] = [];
  const steps = { move: () => seen.push("move"), done: () => seen.push("done"), cancel: () => seen.push("cancel") };
  beforeEach(() => {
    seen.length = 0;
    Object.assign(globalThis, { window: target });
  });
  const tell = (name: string, more = {}) => target.dispatchEvent(Object.assign(new Event(name), more));

  test("moves until it is let go, and hears nothing after", () => {
    followPointer(steps);
    for (const name of ["pointermove", "pointermove", "pointerup", "pointermove", "pointerup"]) tell(name);
    expect(seen).toEqual(["move", "move", "done"]);
  });

  test("Esc gives up, and so does a pointer the system takes away; other keys do not", () => {
    followPointer(steps);
    tell("keydown", { key: "a" });
    tell("keydown", { key: "Escape" });
    tell("pointerup");
    followPointer(steps);
    tell("pointercancel");
    tell("pointerup");
    expect(seen).toEqual(["cancel", "cancel"]);
  });
});
