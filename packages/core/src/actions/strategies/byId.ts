import { controlById } from "../../model/rig.ts";
import type { Strategy } from "./strategy.ts";

/** The control of the same id: the same rig, or one made from the same file. */
export const byId: Strategy = { id: "id", prepare: (rig) => (control) => controlById(rig, control.id) };
