import type { Shot } from "../../src/model/shot.ts";
import { checkSettings } from "../../src/operations/catalogue.ts";
import { noContext, type Operation, type Outcome, type Scope, WHOLE_FIGURE } from "../../src/operations/operation.ts";
import { runOperation } from "../../src/operations/runOperation.ts";

/** Run an operation as everybody does: settings checked, locked channels kept, the whole figure where nothing else is said. */
export async function run<Settings>(
  operation: Operation<Settings>,
  shot: Shot,
  settings: object = {},
  scope: Partial<Scope> = {},
): Promise<Outcome> {
  const checked = checkSettings(operation as Operation, settings) as Settings;
  return runOperation(operation, shot, { ...WHOLE_FIGURE, ...scope }, checked, noContext);
}
