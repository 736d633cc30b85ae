import { typedNumber } from "../src/bench/arithmetic.ts";
import { sayAgo, sayBytes } from "../src/bench/units.ts";

describe("numbers as typed", () => {
  test.each([
    ["12.5", 12.5],
    ["-3", -3],
    ["12,5", 12.5],
    ["0.48°", 0.48],
    ["70 %", 70],
    ["4 mm", 4],
    ["+3", 13],
    ["-=3", 7],
    ["+=3", 13],
    ["*1.2", 12],
    ["/4", 2.5],
    ["6*4", 24],
    ["2+3*4", 14],
    ["10-2-3", 5],
    ["100/4/5", 5],
    ["2*-3", -6],
    ["1e3", 1000],
    ["* 2 + 1", 30],
  ])("%s from 10 gives %p", (text, value) => {
    expect(typedNumber(text, 10)).toBeCloseTo(value as number, 9);
  });

  test.each(["", "  ", "abc", "1..2", "+", "*", "1/0", "/0", "5 5", "--", "NaN", "Infinity"])("%p makes no sense", (text) => {
    expect(typedNumber(text, 10)).toBeNull();
  });
});

describe("words for sizes and times", () => {
  test("bytes", () => {
    expect([sayBytes(0), sayBytes(900), sayBytes(72 * 1024), sayBytes(8.5 * 1024 * 1024), sayBytes(10 * 1024 ** 3)]).toEqual([
      "0 B",
      "900 B",
      "72 kB",
      "8.5 MB",
      "10 GB",
    ]);
  });

  test("how long ago", () => {
    const now = 1_000_000_000;
    expect(sayAgo(now - 2_000, now)).toMatch(/2 s ago/);
    expect(sayAgo(now - 5 * 60_000, now)).toMatch(/5 min ago/);
    expect(sayAgo(now - 3 * 3_600_000, now)).toMatch(/3 h ago/);
  });
});
