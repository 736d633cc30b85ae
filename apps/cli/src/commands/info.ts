import { countKeys, framesPerSecond, type Shot } from "@kneader/core";
import { open, openBytes } from "../files.ts";
import { UsageError } from "../result.ts";
import { type Command, from } from "./command.ts";
import { needKind } from "./inOut.ts";

export const info: Command = {
  name: "info",
  takes: "FILE",
  help: "Says what a file holds, as JSON.",
  example: "kneader info walk.bvh",
  options: [from],
  async run({ plain, options }, talk) {
    if (plain.length !== 1) throw new UsageError("info needs one FILE.", "info");
    const [file] = plain;
    const kind = options.from?.at(-1);
    if (file === "-") {
      if (kind === undefined) throw new UsageError('"-" needs --from EXT, such as --from bvh.', "info");
      const name = `standard-input.${kind}`;
      needKind(name, "info");
      return { said: infoOf((await openBytes(await talk.read(), name, talk)).shot) };
    }
    return { said: infoOf((await open(file, talk)).shot) };
  },
};

/** What a shot holds, in numbers. */
export function infoOf(shot: Shot) {
  return {
    name: shot.name,
    controls: shot.rig.controls.length,
    curves: Object.keys(shot.base).length,
    keys: countKeys(shot.base),
    passes: shot.passes.map((pass) => ({ name: pass.name, kind: pass.kind, on: pass.on, keys: countKeys(pass.curves) })),
    constraints: shot.constraints.map(({ name, kind, on }) => ({ name, kind, on })),
    framesPerSecond: framesPerSecond(shot.rate),
    range: shot.range,
  };
}
