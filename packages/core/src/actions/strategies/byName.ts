import type { Strategy } from "./strategy.ts";

const plain = (name: string) => name.toLowerCase().replace(/[^a-z0-9]/g, "");

/** The control of the same name, without regard to case, blanks and punctuation. */
export const byName: Strategy = {
  id: "name",
  prepare(rig) {
    const controls = new Map(rig.controls.map((control) => [plain(control.name), control]));
    return ({ name }) => controls.get(plain(name));
  },
};
