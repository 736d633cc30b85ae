import { KneaderError } from "../errors.ts";
import { sayIssue } from "../formats/sayIssue.ts";
import type { Operation } from "./operation.ts";

/** The settings of an operation, checked; a wrong one is named in the error. */
export function checkSettings(operation: Operation, given: unknown): unknown {
  const result = operation.settings.safeParse(given);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  // What is asked for in words of its own needs no name of the setting.
  const said = issue.code === "custom" && issue.path.length === 1 ? issue.message : `setting ${sayIssue(result.error, "", "list")}`;
  throw new KneaderError("bad-setting", `${operation.title}: ${said}.`);
}
