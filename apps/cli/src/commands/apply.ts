import {
  checkSettings,
  KneaderError,
  noContext,
  type Operation,
  type Report,
  runOperation,
  sayError,
  settingsSchema,
  writeAction,
} from "@kneader/core";
import { didYouMean } from "../arguments/didYouMean.ts";
import { type Taken, valueFrom } from "../arguments/values.ts";
import { UsageError } from "../result.ts";
import { type Command, from, overwrite, to } from "./command.ts";
import { answer, inOut, openIn, putOut, saveOut } from "./inOut.ts";
import { needOperation } from "./operations.ts";
import { rangeOf, scopeOf, scopeOptions } from "./scopeOf.ts";

export const apply: Command = {
  name: "apply",
  takes: "OPERATION IN OUT",
  help: "Runs a rework operation on a shot.",
  more: ["Settings that are not said are as the bench would propose them at the beginning of the shot, or of the range."],
  example: "kneader apply simplify walk.bvh fewer.json --set rotation=0.5 --set together=curve",
  options: [
    { name: "set", takes: "NAME=VALUE", help: "A setting; @FILE as a value reads JSON from FILE. As often as needed." },
    ...scopeOptions,
    from,
    to,
    overwrite,
  ],
  async run(given, talk) {
    if (given.plain.length !== 3) throw new UsageError("apply needs OPERATION, IN and OUT.", "apply");
    const operation = needOperation(given.plain[0], "apply");
    const settings = await settingsFrom(operation, given.options.set ?? []);
    rangeOf(given, "apply");
    const inout = await inOut(given.plain[1], given.plain[2], given, "apply");
    if (operation.makes === "action" && !inout.toName.toLowerCase().endsWith(".json"))
      throw new UsageError(`"${operation.id}" makes an action, which is a .json file: "${inout.to}" would be none.`, "apply");
    const { shot, asset } = await openIn(inout, talk);
    const scope = scopeOf(shot, given, talk, "apply");
    const frame = scope.range?.start ?? shot.range.start;
    const proposed = operation.situation?.({ shot, scope, frame, copiedPose: null, copiedKeys: null, poseShare: 0.5 });
    const all = checkSettings(operation, { ...proposed, ...settings });
    const outcome = await runOperation(operation, shot, scope, all, noContext);
    if (outcome.action) await putOut(writeAction(outcome.action), inout, talk);
    else await saveOut(outcome.shot, inout, talk, asset);
    const said = {
      operation: operation.id,
      settings: short(all as Record<string, unknown>),
      written: inout.to,
      report: shortReport(outcome.report),
    };
    return answer(said, inout, talk);
  },
};

/** Settings from `name=value`, looked at by the operation before any file is. Errors: `UsageError`. */
async function settingsFrom(operation: Operation, texts: readonly string[]): Promise<Record<string, unknown>> {
  const { properties = {} } = settingsSchema(operation) as { properties?: Record<string, Taken> };
  const settings: Record<string, unknown> = {};
  for (const text of texts) {
    const at = text.indexOf("=");
    if (at < 1) throw new UsageError(`--set needs NAME=VALUE, not "${text}".`, "apply");
    const name = text.slice(0, at);
    const names = Object.keys(properties);
    if (!(name in properties))
      throw new UsageError(
        `"${operation.id}" has no setting "${name}".${didYouMean(name, names) || ` It has: ${names.join(", ") || "none"}.`}`,
        "apply",
      );
    settings[name] = await valueFrom(text.slice(at + 1), name, properties[name], "apply");
  }
  try {
    checkSettings(operation, settings);
  } catch (error) {
    if (error instanceof KneaderError && error.code === "bad-setting") throw new UsageError(sayError(error), "apply");
    throw error;
  }
  return settings;
}

/** Settings without what was read from a file. */
function short(settings: Record<string, unknown>): Record<string, unknown> {
  const isLong = (value: unknown) => typeof value === "object" && value !== null && !Array.isArray(value);
  return Object.fromEntries(Object.entries(settings).map(([name, value]) => [name, isLong(value) ? "given" : value]));
}

/** A report without its long columns. */
function shortReport({ drift, strain, ...report }: Report) {
  return { ...report, drift: drift === null ? null : { turn: drift.turn, place: drift.place }, ...(strain && { strain: strain.said }) };
}
