import type { z } from "zod";

type Issue = z.core.$ZodIssue;

const expected: Readonly<Record<string, string>> = {
  array: "a list",
  tuple: "a list",
  object: "an object",
  record: "an object",
  string: "text",
  number: "a number",
  int: "a whole number",
  boolean: "true or false",
};

function problem(issue: Issue): string {
  switch (issue.code) {
    case "invalid_type":
      return `should be ${expected[issue.expected] ?? issue.expected}`;
    case "too_small":
      return issue.origin === "array" ? `should have ${issue.minimum} entries at the least` : `should not be below ${issue.minimum}`;
    case "too_big":
      return issue.origin === "array" ? `should have ${issue.maximum} entries at the most` : `should not be above ${issue.maximum}`;
    case "invalid_value":
      return `should be one of ${issue.values.map(String).join(", ")}`;
    case "custom":
      return issue.message;
    default:
      return `cannot be read: ${issue.message}`;
  }
}

/** What is wrong with the first thing that is, and where, in words: "nodes.3.name should be text". */
export function sayIssue(error: z.core.$ZodError, inside = "", whole = "the file"): string {
  const [issue] = error.issues;
  const where = [inside, ...issue.path.map(String)].filter(Boolean).join(".");
  return `${where || whole}${issue.code === "custom" ? ":" : ""} ${problem(issue)}`;
}
