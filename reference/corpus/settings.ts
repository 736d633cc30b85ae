import {
  liftKeys,
  operationById,
  runOperation,
  noContext,
  shippedRecipes,
  type Operation,
  settingsSchema,
  type Shot,
  WHOLE_FIGURE,
} from "@kneader/core";
import type { Chance } from "../../packages/core/test/help/chance.ts";

interface Property {
  readonly type?: string;
  readonly enum?: readonly string[];
  readonly default?: unknown;
  readonly minimum?: number;
  readonly maximum?: number;
}

/** Settings in words, by name: what a person might have typed. */
const typed: Readonly<Record<string, readonly string[]>> = {
  list: ["4 3 2", "6 hold 4 3", "2 2 2 2 2 2"],
  frames: ["1 9 20 31", "5,6"],
  pattern: ["2", "3 1", "1 1 2"],
};

function numberFor(
  name: string,
  { type, default: usual = 1, minimum = -1e9, maximum = 1e9 }: Property,
  shot: Shot,
  chance: Chance,
): number {
  const span = shot.range.end - shot.range.start;
  const isFrame = ["at", "to", "from", "one", "other", "frame", "pivot", "about"].includes(name);
  const free = isFrame
    ? shot.range.start + chance.between(0, 1) * Math.min(span, 60)
    : Number(usual) * chance.between(0.2, 1.8) + chance.between(-1, 1);
  const value = Math.min(maximum, Math.max(minimum, free));
  return type === "integer" ? Math.round(value) : Math.round(value * 1000) / 1000;
}

function settingFor(name: string, property: Property, shot: Shot, chance: Chance): unknown {
  if (property.enum) return chance.of(property.enum);
  if (property.type === "boolean") return chance.next() < 0.5;
  if (property.type === "number" || property.type === "integer") return numberFor(name, property, shot, chance);
  if (property.type === "string" && typed[name]) return chance.of(typed[name]);
  if (["first", "control", "root", "target", "space", "into", "ground", "toward", "upOf"].includes(name))
    return chance.of(shot.rig.controls).id;
  if (name === "camera") return shot.rig.controls.find(({ id }) => id === "camera")?.id ?? "";
  if (name === "frames" || name === "keep") return [shot.range.start, shot.range.start + 5];
  return property.default;
}

/** What an operation needs of the shot before it can do anything at all. */
async function needed(operation: Operation, shot: Shot): Promise<Record<string, unknown>> {
  const part = { ...WHOLE_FIGURE, range: { start: shot.range.start, end: shot.range.start + 12 } };
  if (operation.id === "paste-keys") return { keys: liftKeys(shot, part), at: shot.range.start + 7 };
  if (operation.id === "record") {
    const key = `${shot.rig.controls[0].id}.rotateX`;
    const take = { id: "take", name: "Take 1", start: shot.range.start, values: { [key]: [0, 4, 9, 11, 6, 2, -3, -1, 0] } };
    return { recorded: { takes: [take], chosen: "take", joins: [] } };
  }
  if (["pose-field", "fly"].includes(operation.id)) {
    const at = { shot, scope: WHOLE_FIGURE, frame: shot.range.start, copiedPose: null, copiedKeys: null, poseShare: 0.5 };
    return { ...operation.situation?.(at) };
  }
  // A few steps tell as much as many.
  if (operation.id === "tune") return { steps: 4 };
  if (operation.id === "run-recipe") return { recipe: shippedRecipes[0], answers: {} };
  if (operation.id !== "apply-action") return {};
  const save = operationById("save-action");
  const { action } = await runOperation(save, shot, part, save.settings.parse({}), noContext);
  return { action };
}

/** Settings for an operation on a shot: as they stand at first, or by chance within what they may be. */
export async function settingsFor(operation: Operation, shot: Shot, chance: Chance | null): Promise<unknown> {
  const { properties = {} } = settingsSchema(operation) as { properties?: Record<string, Property> };
  const own = await needed(operation, shot);
  if (!chance) return own;
  const drawn = Object.entries(properties).map(([name, property]) => [name, settingFor(name, property, shot, chance)] as const);
  return { ...Object.fromEntries(drawn.filter(([, value]) => value !== undefined)), ...own };
}
