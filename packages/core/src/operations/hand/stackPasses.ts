import { z } from "zod";
import { addMembers, fillFromResult } from "../../evaluate/fillPass.ts";
import type { Shot } from "../../model/shot.ts";
import { makePass } from "../../model/shotFields.ts";
import { duplicatePass, emptyPasses, passOf, removeMembers, splitPass } from "../../passes/editPasses.ts";
import { byHand } from "./handOperation.ts";
import { countedWord } from "../../words.ts";

const channels = z.array(z.string());
const settings = z.discriminatedUnion("do", [
  z.object({ do: z.literal("add"), id: z.string().min(1), kind: z.string() }),
  z.object({ do: z.literal("remove"), pass: z.string() }),
  z.object({ do: z.literal("move"), pass: z.string(), places: z.number().int() }),
  z.object({ do: z.literal("duplicate"), pass: z.string(), id: z.string().min(1) }),
  z.object({ do: z.literal("split"), pass: z.string(), id: z.string().min(1), channels }),
  z.object({ do: z.literal("add-members"), pass: z.string(), channels, frame: z.number(), what: z.string().optional() }),
  z.object({ do: z.literal("remove-members"), pass: z.string(), channels }),
  z.object({ do: z.literal("fill"), pass: z.string(), channels, frame: z.number() }),
  z.object({ do: z.literal("remove-empty") }),
]);
type Said = z.infer<typeof settings>;
type Done = { shot: Shot; summary: string };

function added(shot: Shot, id: string, kind: string): Done {
  const names = new Set(shot.passes.map(({ name }) => name));
  let count = shot.passes.length + 1;
  while (names.has(`Pass ${count}`)) count++;
  return { shot: { ...shot, passes: [...shot.passes, makePass(id, `Pass ${count}`, kind)] }, summary: `Add Pass ${count}` };
}

function moved(shot: Shot, id: string, places: number): Shot {
  const passes = [...shot.passes];
  const from = passes.findIndex((pass) => pass.id === id);
  const [pass] = passes.splice(from, 1);
  passes.splice(Math.min(passes.length, Math.max(0, from + places)), 0, pass);
  return { ...shot, passes };
}

function done(shot: Shot, said: Said): Done {
  if (said.do === "add") return added(shot, said.id, said.kind);
  if (said.do === "remove-empty") {
    const empty = emptyPasses(shot);
    return {
      shot: { ...shot, passes: shot.passes.filter((pass) => !empty.includes(pass)) },
      summary: `Remove ${empty.length} empty passes`,
    };
  }
  const { id, name } = passOf(shot, said.pass);
  switch (said.do) {
    case "remove":
      return { shot: { ...shot, passes: shot.passes.filter((pass) => pass.id !== id) }, summary: `Remove ${name}` };
    case "move":
      return { shot: moved(shot, id, said.places), summary: `Move ${name} in the stack` };
    case "duplicate":
      return { shot: duplicatePass(shot, id, said.id), summary: `Duplicate ${name}` };
    case "split":
      return { shot: splitPass(shot, id, said.channels, said.id), summary: `Split ${name}` };
    case "add-members":
      return {
        shot: addMembers(shot, id, said.channels, said.frame),
        summary: `Add ${said.what ?? `${countedWord(said.channels.length, "channel")}`} to ${name}`,
      };
    case "remove-members":
      return {
        shot: removeMembers(shot, id, said.channels),
        summary: `Take ${countedWord(said.channels.length, "channel")} out of ${name}`,
      };
    case "fill":
      return { shot: fillFromResult(shot, id, said.channels, said.frame), summary: `${name} starts from what is seen at ${said.frame}` };
  }
}

/** Which passes there are, in what order, and what each works on. */
export const stackPasses = byHand<Said>({
  id: "stack-passes",
  title: "Change the stack",
  help: "Adds, removes, moves, duplicates and splits passes, and says what they work on.",
  settings,
  named: true,
  stacks: true,
  edit: (shot, _scope, said) => done(shot, said),
});
