import { sayJsonError } from "../../src/formats/sayJsonError.ts";

const said = (text: string): string => {
  try {
    JSON.parse(text);
  } catch (error) {
    return sayJsonError(text, error);
  }
  throw new Error("it is JSON");
};

test("what is wrong with JSON is said in words, with its place, whatever the engine calls it", () => {
  expect(said('{"a": 1')).toMatch(/^it (ends in the middle|makes no sense from line 1, character 8)/);
  expect(said("")).toBe("it ends in the middle");
  expect(said('{\n  "a": 1,\n  b: 2\n}')).toBe('it makes no sense from line 3, character 3 on: "b: 2\n}"');
  expect(said("hello there")).toMatch(/^it (begins with "hello there", as no JSON does|makes no sense from line 1, character 1 on)/);
  for (const text of ["[1,]", "nul", '{"a"}', "\u0000"]) expect(said(text)).not.toMatch(/token|JSON at|Expected/);
});
