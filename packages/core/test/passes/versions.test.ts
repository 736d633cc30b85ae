import { constantCurve } from "../../src/curve/make.ts";
import { makePlayer } from "../../src/evaluate/makePlayer.ts";
import { shotFromJson, shotToJson } from "../../src/formats/schema.ts";
import { type Shot, withPass } from "../../src/model/shot.ts";
import { inVersion, keepVersion, presentVersion, removeVersion } from "../../src/passes/versions.ts";
import { movingShot, passOf } from "../help/shots.ts";

const lean = passOf("adds", { "spine.rotateX": constantCurve(20) }, { id: "lean" });
const turn = passOf("adds", { "root.rotateY": constantCurve(40) }, { id: "turn" });
const start = movingShot({ passes: [lean, turn] });

function seen(shot: Shot): Float64Array {
  const player = makePlayer(shot);
  player.pose(20);
  return player.worlds.slice();
}

test("states of the passes are kept by name, gone to and told apart", () => {
  const { shot: one, version: both } = keepVersion(start, "Both");
  const quiet = withPass(one, "turn", (pass) => ({ ...pass, on: false }));
  const strong = withPass(quiet, "lean", (pass) => ({ ...pass, weight: constantCurve(1.5) }));
  const { shot: two, version: only } = keepVersion(strong, "Lean only ");
  expect(only.name).toBe("Lean only");
  expect(presentVersion(two)?.id).toBe(only.id);
  const back = inVersion(two, both.id);
  expect(presentVersion(back)?.id).toBe(both.id);
  expect(seen(back)).toEqual(seen(start));
  expect(seen(inVersion(back, only.id))).toEqual(seen(strong));
  expect(inVersion(back, both.id).passes).toEqual(back.passes);
});

test("a pass made later is off in an older version; one that is gone is not missed", () => {
  const { shot, version } = keepVersion(start, "First");
  const later = { ...shot, passes: [...shot.passes.slice(1), passOf("adds", { "spine.rotateY": constantCurve(9) }, { id: "new" })] };
  const back = inVersion(later, version.id);
  expect(back.passes.map(({ id, on }) => [id, on])).toEqual([
    ["turn", true],
    ["new", false],
  ]);
});

test("kept again under its name a version is replaced; it can be removed; it needs a name", () => {
  const { shot, version } = keepVersion(start, "A");
  const { shot: again } = keepVersion(
    withPass(shot, "lean", (pass) => ({ ...pass, on: false })),
    "A",
  );
  expect(again.versions.map(({ id }) => id)).toEqual([version.id]);
  expect(again.versions[0].passes.lean.on).toBe(false);
  expect(removeVersion(again, version.id).versions).toEqual([]);
  expect(() => keepVersion(start, "  ")).toThrow(/needs a name/);
  expect(() => inVersion(start, version.id)).toThrow(/no such version/);
});

test("they are in the shot's file; older files have none", () => {
  const { shot } = keepVersion(start, "A");
  const json = JSON.parse(JSON.stringify(shotToJson(shot)));
  expect(shotFromJson(json).versions).toEqual(shot.versions);
  delete json.shot.versions;
  expect(shotFromJson(json).versions).toEqual([]);
});
