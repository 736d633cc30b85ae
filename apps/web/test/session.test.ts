import { BASE, operations, type Shot, WHOLE_FIGURE } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { clock } from "../src/bench/clock.ts";
import { currentDocument, useDocuments } from "../src/bench/documents.ts";
import { addPass, removePass } from "../src/bench/edits.ts";
import { perform } from "../src/bench/perform.ts";
import { useSelection } from "../src/bench/selection.ts";
import { beginSession, endSession, picksIn } from "../src/bench/session.ts";

const hop = demoShots[1].make() as Shot;
const documents = () => useDocuments.getState();
const selection = () => useSelection.getState();

beforeEach(() => {
  useDocuments.setState({ open: {}, current: null, preview: null });
  documents().add(hop, false);
  beginSession(hop.id, hop);
});

test("a session begins with nothing picked and the playhead at the start of its shot", () => {
  selection().pickControls(["hips"]);
  clock.set(20);
  const other = { ...hop, id: "other", range: { start: 5, end: 30 } };
  documents().add(other, false);
  beginSession("other", other);
  expect(currentDocument()).toBe(other);
  expect(selection()).toMatchObject({ controls: [], keys: {}, layer: BASE });
  expect(clock.frame).toBe(5);
});

test("what was tried is gone when it ends", () => {
  documents().setPreview({ ...hop, name: "tried" });
  endSession();
  expect(documents().preview).toBeNull();
});

test("keys that undo takes away are picked no longer; those that are there stay picked", () => {
  perform(operations.keyValues, { frame: 13, values: { "hips.moveY": 1 } });
  selection().pickKeys({ "hips.moveY": [11, 13], "chest.rotateX": [11] });
  documents().undo();
  expect(selection().keys).toEqual({ "hips.moveY": [11], "chest.rotateX": [11] });
});

test("a pass that is removed, or that undo takes away, is no longer the layer", () => {
  addPass();
  const { layer } = selection();
  expect(layer).not.toBe(BASE);
  documents().undo();
  expect(selection().layer).toBe(BASE);
  addPass();
  const [pass] = currentDocument()?.passes ?? [];
  removePass(pass.id);
  expect(selection().layer).toBe(BASE);
});

test("picks that are all there stay the very same; controls and channels that are gone go", () => {
  const picks = { layer: BASE, controls: ["hips", "chest"], channels: ["hips.moveY"], keys: { "hips.moveY": [11] } };
  expect(picksIn(hop, picks)).toBe(picks);
  const without = { ...hop, rig: { ...hop.rig, controls: hop.rig.controls.filter(({ id }) => id !== "hips") }, base: {} };
  expect(picksIn(without, picks)).toEqual({ layer: BASE, controls: ["chest"], channels: [], keys: {} });
});

test("a step made from elsewhere is looked at as well", () => {
  selection().pickKeys({ "hips.moveY": [11] });
  const { shot } = operations.removeKeys.run(hop, { ...WHOLE_FIGURE, keys: { "hips.moveY": [11] } }, { cut: false });
  documents().change("elsewhere", shot, { operation: operations.removeKeys.id, scope: WHOLE_FIGURE, settings: {} });
  expect(selection().keys).toEqual({});
});
