import { catalogue, operationById, settingsSchema } from "@kneader/core";
import { didYouMean } from "../arguments/didYouMean.ts";
import { UsageError } from "../result.ts";
import type { Command } from "./command.ts";

export const operations: Command = {
  name: "operations",
  takes: "[ID]",
  help: "Lists the catalogue of operations with their settings, or tells one of them, as JSON.",
  example: "kneader operations simplify",
  options: [],
  async run({ plain }) {
    if (plain.length > 1) throw new UsageError("operations takes one ID, or none.", "operations");
    return { said: plain.length === 1 ? told(needOperation(plain[0], "operations")) : catalogue.map(told) };
  },
};

function told(operation: (typeof catalogue)[number]) {
  const { id, title, group, help } = operation;
  return { id, title, group, help, settings: settingsSchema(operation) };
}

/** The operation of an id. Errors: `UsageError`. */
export function needOperation(id: string, command: string) {
  if (catalogue.some((operation) => operation.id === id)) return operationById(id);
  const near = didYouMean(
    id,
    catalogue.map((operation) => operation.id),
  );
  throw new UsageError(`There is no operation "${id}".${near || ' "kneader operations" lists them.'}`, command);
}
