import { byName } from "./byName.ts";
import { byPath } from "./byPath.ts";
import { byPlace } from "./byPlace.ts";
import { byShape } from "./byShape.ts";
import type { Strategy } from "./strategy.ts";

/** Every way to match controls, the surest first. */
export const strategies: readonly Strategy[] = [byName, byPath, byPlace, byShape];
