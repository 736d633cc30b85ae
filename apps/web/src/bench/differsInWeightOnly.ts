import type { Pass, Shot } from "@kneader/core";

/** Are two states of a shot the same but for the weights of passes? */
export function differsInWeightOnly(a: Shot, b: Shot): boolean {
  const { passes, ...rest } = a;
  if (passes.length !== b.passes.length || Object.entries(rest).some(([part, value]) => value !== b[part as keyof Shot])) return false;
  return passes.every((pass, i) => pass === b.passes[i] || sameButWeight(pass, b.passes[i]));
}

function sameButWeight({ weight, ...rest }: Pass, other: Pass): boolean {
  return Object.entries(rest).every(([part, value]) => value === other[part as keyof Pass]);
}
