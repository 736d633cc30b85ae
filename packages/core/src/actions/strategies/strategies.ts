import { byId } from "./byId.ts";
import { byName } from "./byName.ts";
import type { Strategy } from "./strategy.ts";

/** Every way to match controls, the surest first. */
export const strategies: readonly Strategy[] = [byId, byName];
