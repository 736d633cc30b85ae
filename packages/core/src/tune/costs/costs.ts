import type { Cost } from "../cost.ts";
import { arc } from "./arc.ts";
import { balance } from "./balance.ts";
import { effort } from "./effort.ts";
import { feet } from "./feet.ts";
import { jerk } from "./jerk.ts";
import { joints } from "./joints.ts";
import { loop } from "./loop.ts";
import { spacing } from "./spacing.ts";

/** Every cost there is, in the order in which they are listed. */
export const costs: readonly Cost[] = [jerk, feet, arc, balance, joints, spacing, effort, loop];
