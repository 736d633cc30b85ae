import { catalogue, checkSettings } from "@kneader/core";
import { movingShot } from "../packages/core/test/help/shots.ts";
import { settingsFor } from "../reference/corpus/settings.ts";
for (const o of catalogue) if (["simplify","clean-capture","tune","run-recipe"].includes(o.id)) console.log(o.id, JSON.stringify(checkSettings(o, await settingsFor(o, movingShot(), null))).slice(0,600));
