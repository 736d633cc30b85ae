import { apply } from "./apply.ts";
import type { Command } from "./command.ts";
import { convert } from "./convert.ts";
import { demo } from "./demo.ts";
import { info } from "./info.ts";
import { operations } from "./operations.ts";
import { recipe } from "./recipe.ts";

/** What can be done, in the order in which help lists it. */
export const commands: readonly Command[] = [info, convert, apply, recipe, operations, demo];
