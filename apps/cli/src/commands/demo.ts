import { demoShots } from "@kneader/demo";
import { didYouMean } from "../arguments/didYouMean.ts";
import { UsageError } from "../result.ts";
import { type Command, to } from "./command.ts";
import { infoOf } from "./info.ts";
import { answer, inOut, saveOut } from "./inOut.ts";

export const demo: Command = {
  name: "demo",
  takes: "[NAME OUT]",
  help: "Writes a shot of the demo; without NAME and OUT it lists them.",
  example: 'kneader demo "Half a walk" walk.json',
  options: [to],
  async run(given, talk) {
    if (given.plain.length === 0) return { said: demoShots.map(({ name, note }) => ({ name, note })) };
    if (given.plain.length !== 2) throw new UsageError("demo needs NAME and OUT.", "demo");
    const [wanted, file] = given.plain;
    // Whatever the case; blanks and hyphens are alike.
    const plain = (name: string) =>
      name
        .toLowerCase()
        .replace(/^demo-/, "")
        .replaceAll("-", " ");
    const found = demoShots.find(({ id, name }) => plain(name) === plain(wanted) || plain(id) === plain(wanted));
    const names = demoShots.map(({ name }) => name);
    if (!found)
      throw new UsageError(`There is no demo shot "${wanted}".${didYouMean(wanted, names) || ` There are: ${names.join(", ")}.`}`, "demo");
    const inout = { ...(await inOut(".json", file, given, "demo")), from: "" };
    const shot = await found.make();
    await saveOut(shot, inout, talk);
    return answer({ ...infoOf(shot), written: inout.to }, inout, talk);
  },
};
