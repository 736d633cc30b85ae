import { readFileSync } from "node:fs";
import { catalogue, checkSettings, KneaderError, linearCurve, linearFrame, runOperation, WHOLE_FIGURE, type Curve, shotFromBvh } from "@kneader/core";
import * as core from "@kneader/core";
console.log(Object.keys(core).filter((k)=>/bvh/i.test(k)));
