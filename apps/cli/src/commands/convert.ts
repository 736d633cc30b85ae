import { formats } from "@kneader/core";
import { UsageError } from "../result.ts";
import { type Command, from, overwrite, to } from "./command.ts";
import { infoOf } from "./info.ts";
import { answer, inOut, openIn, saveOut } from "./inOut.ts";

export const convert: Command = {
  name: "convert",
  takes: "IN OUT",
  help: `Writes a shot in another format, by extension: ${formats.map(({ extension }) => extension).join(" ")}.`,
  more: ["A character's own glTF file is handed back with nothing but its motion changed."],
  example: "kneader convert walk.bvh walk.glb",
  options: [from, to, overwrite],
  async run(given, talk) {
    if (given.plain.length !== 2) throw new UsageError("convert needs IN and OUT.", "convert");
    const inout = await inOut(given.plain[0], given.plain[1], given, "convert");
    const { shot, asset } = await openIn(inout, talk);
    await saveOut(shot, inout, talk, asset);
    return answer({ ...infoOf(shot), written: inout.to }, inout, talk);
  },
};
