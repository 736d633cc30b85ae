import { findPartners, type SideWords, withoutPartner } from "../../src/figure/partners.ts";
import { partnersByPlace } from "../../src/figure/partnersByPlace.ts";
import type { Control, Rig } from "../../src/model/rig.ts";
import { halfAWalk } from "../../../demo/src/shots/halfAWalk.ts";
import { captureShot } from "../help/capture.ts";
import { control } from "../help/shots.ts";

/** Names as a set of controls; answers pairs by name, a central one with itself, null where none is found. */
function pairsOf(names: readonly string[], words?: readonly SideWords[]): Record<string, string | null> {
  const controls = names.map((name, i) => control(`c${i}`, null, [0, 0, 0], { name }));
  const nameOf = new Map(controls.map(({ id, name }) => [id, name]));
  return Object.fromEntries(findPartners(controls, words).map(({ name, partner }) => [name, partner && (nameOf.get(partner) as string)]));
}

/** Habits of naming sides, gathered from the trade at large (common practice; no single source). */
const pairs: readonly (readonly [string, string])[] = [
  // Whole words: behind, before, inside.
  ["Hand left", "Hand right"],
  ["hand_left", "hand_right"],
  ["HandLeft", "HandRight"],
  ["LeftUpLeg", "RightUpLeg"],
  ["leftHand", "rightHand"],
  ["left_hand", "right_hand"],
  ["Left-Foot", "Right-Foot"],
  ["LEFT_FOOT", "RIGHT_FOOT"],
  ["arm.left.upper", "arm.right.upper"],
  ["Leg (left)", "Leg (right)"],
  ["leftarm", "rightarm"],
  ["armleft", "armright"],
  ["Leftwrist", "Rightwrist"],
  // Letters.
  ["arm_L", "arm_R"],
  ["arm_l", "arm_r"],
  ["arm.L", "arm.R"],
  ["arm-l", "arm-r"],
  ["armL", "armR"],
  ["L_arm", "R_arm"],
  ["l_arm", "r_arm"],
  ["L-foot", "R-foot"],
  ["LHipJoint", "RHipJoint"],
  ["LThumb", "RThumb"],
  ["lKnee", "rKnee"],
  ["spine_L_wing", "spine_R_wing"],
  ["ctrl_l_ear_tip", "ctrl_r_ear_tip"],
  ["L Shoulder", "R Shoulder"],
  ["[L] eye", "[R] eye"],
  // Two letters.
  ["thigh.lt", "thigh.rt"],
  ["Lt_thigh", "Rt_thigh"],
  ["lf_paw", "rf_paw"],
  ["LF_ankle", "RF_ankle"],
  // With numbers.
  ["finger_01_L", "finger_01_R"],
  ["finger01L", "finger01R"],
  ["L_finger_2", "R_finger_2"],
  ["finger.L.001", "finger.R.001"],
  ["toe_l2", "toe_r2"],
  ["LeftHandIndex1", "RightHandIndex1"],
  ["l3_whisker", "r3_whisker"],
  ["Arm2Left", "Arm2Right"],
  ["left01", "right01"],
  // Behind the name of what they came with.
  ["otter:LeftArm", "otter:RightArm"],
  ["otter|rig|arm_L", "otter|rig|arm_R"],
  ["figure/hand-left", "figure/hand-right"],
  // Twice, and with a side word that is none of the control's own.
  ["left_ear_l", "right_ear_r"],
  ["L_leg_right_strap", "R_leg_right_strap"],
  // Names that also hold other words like a side.
  ["upright_L", "upright_R"],
  ["light_l", "light_r"],
  ["Left bright", "Right bright"],
  // Written differently on the two sides.
  ["Elbow Left", "elbow_right"],
  ["oar_L1", "Oar R1"],
];

/** Names that speak of no side though they hold its letters. */
const central = ["Hips", "upright", "Bright lantern", "cleft", "Rib", "L5", "R2", "root", "Tail 3", "world", "right of way sign"];

test(`${2 * pairs.length + central.length} names in common habits: the right pairs, and none wrong, each alone and all in one rig`, () => {
  for (const [left, right] of pairs) expect([left, pairsOf([left, right])]).toEqual([left, { [left]: right, [right]: left }]);
  const alone = central.slice(0, -1);
  const names = [...pairs.flat(), ...alone];
  const found = pairsOf(names);
  for (const [left, right] of pairs) {
    // Two habits may write the same thing, differing only in case or signs; then the one written alike is taken.
    expect([left, found[left]]).toEqual([left, right]);
    expect([right, found[right]]).toEqual([right, left]);
  }
  for (const name of alone) expect([name, found[name]]).toEqual([name, name]);
});

test("a name that plainly says a side without the other one has no partner, and is listed", () => {
  expect(pairsOf(["Hips", "hand_L", "Ear right"])).toEqual({ Hips: "Hips", hand_L: null, "Ear right": null });
  const found = findPartners([control("hips", null, [0, 0, 0]), control("hand left", "hips", [0, 0, 0])]);
  expect(withoutPartner({ id: "", name: "", figure: null, controls: found }).map(({ id }) => id)).toEqual(["hand left"]);
});

test("words of one's own: other languages, port and starboard, letters that are no habit", () => {
  expect(pairsOf(["bras_gauche", "bras_droit"])).toEqual({ bras_gauche: "bras_gauche", bras_droit: "bras_droit" });
  const words: SideWords[] = [
    ["gauche", "droit"],
    ["port", "starboard"],
    ["g", "d"],
  ];
  expect(pairsOf(["bras_gauche", "bras_droit", "oarPort", "oarStarboard", "main_G", "main_D"], words)).toEqual({
    bras_gauche: "bras_droit",
    bras_droit: "bras_gauche",
    oarPort: "oarStarboard",
    oarStarboard: "oarPort",
    main_G: "main_D",
    main_D: "main_G",
  });
});

test("partners are mutual: of three that could be, none is paired with two", () => {
  const found = pairsOf(["arm_L", "arm_R", "arm L", "Arm-r"]);
  for (const [name, other] of Object.entries(found)) if (other !== null && other !== name) expect(found[other]).toBe(name);
  expect(found.arm_L).toBe("arm_R");
});

describe("partners from where controls rest", () => {
  const rig = (controls: Control[]): Rig => ({ id: "", name: "", figure: null, controls });
  const partnersOf = (found: readonly Control[]) => Object.fromEntries(found.map(({ id, partner }) => [id, partner]));

  test("names that say nothing: pairs, what stands in the middle, and who has nobody across", () => {
    const found = partnersByPlace(
      rig([
        control("a", null, [0, 1, 0]),
        control("b", "a", [0.3, 0.2, 0]),
        control("c", "a", [-0.3, 0.2, 0.005]),
        control("d", "b", [0.2, 0, 0]),
        control("e", "c", [-0.2, 0, 0]),
        control("f", "a", [0.5, -0.6, 0]),
        control("lamp", null, [0.4, 0, 0], { role: "prop", partner: null }),
      ]),
    );
    expect(partnersOf(found)).toEqual({ a: "a", b: "c", c: "b", d: "e", e: "d", f: null, lamp: null });
  });

  test("the demo's rig and the open capture's: the same as from their names", async () => {
    for (const { rig: made } of [await halfAWalk(), captureShot()]) {
      const bare = { ...made, controls: made.controls.map((one) => ({ ...one, partner: one.role === "figure" ? one.id : one.partner })) };
      const found = partnersOf(partnersByPlace(bare));
      expect(made.controls.filter(({ id, partner }) => found[id] !== partner).map(({ name }) => name)).toEqual([]);
    }
  });
});

test("a control in the middle whose name ends in L or R is central; one beside it that has nobody opposite still has none", () => {
  const rig = findPartners([
    control("hips", null, [0, 1, 0]),
    control("spine_l", "hips", [0, 0.2, 0]),
    control("tail R", "spine_l", [0, -0.1, -0.3]),
    control("arm_l", "spine_l", [0.3, 0.2, 0]),
    control("arm_r", "spine_l", [-0.3, 0.2, 0]),
    control("hook_l", "arm_l", [0.2, 0, 0]),
  ]);
  const partnerOf = (id: string) => rig.find((one) => one.id === id)?.partner;
  expect(partnerOf("spine_l")).toBe("spine_l");
  expect(partnerOf("tail R")).toBe("tail R");
  expect(partnerOf("arm_l")).toBe("arm_r");
  expect(partnerOf("hook_l")).toBeNull();
});
