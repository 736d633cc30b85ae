import { catalogue, checkSettings, KneaderError, linearCurve, linearFrame, runOperation, WHOLE_FIGURE, type Curve } from "@kneader/core";
import { movingShot } from "../packages/core/test/help/shots.ts";
import { settingsFor } from "../reference/corpus/settings.ts";
const FRAMES = 100_000;
const frame = linearFrame(Float64Array.from({ length: FRAMES }, (_, i) => i + 1));
let seed = 1; const noise = () => { seed = (seed * 48271) % 2147483647; return seed / 2147483647; };
const base: Record<string, Curve> = {};
for (const control of ["root", "spine"]) for (const channel of ["moveX", "moveY", "moveZ", "rotateX", "rotateY", "rotateZ"]) base[`${control}.${channel}`] = linearCurve(frame, Float64Array.from({ length: FRAMES }, (_, i) => 20 * Math.sin(i / 40) + noise()));
const shot = { ...movingShot(), base, range: { start: 1, end: FRAMES } };
const only = process.argv.slice(2);
for (const operation of catalogue) {
  if (only.length && !only.includes(operation.id)) continue;
  let settings; try { settings = checkSettings(operation, await settingsFor(operation, shot, null)); } catch (e) { console.log(operation.id, "settings", (e as Error).message.slice(0, 80)); continue; }
  const t = performance.now(); let last = t, gap = 0, breaths = 0;
  const breathe = () => { const now = performance.now(); gap = Math.max(gap, now - last); last = now; breaths++; if (now - t > 15000) throw new KneaderError("cancelled", "too long"); };
  let said = "";
  try { const { report } = await runOperation(operation, shot, WHOLE_FIGURE, settings, { breathe }); said = report.summary.slice(0, 60); } catch (e) { said = "! " + (e as Error).message.slice(0, 70); }
  const ms = performance.now() - t; gap = Math.max(gap, performance.now() - last);
  if (ms > 1200 || gap > 700 || only.length) console.log(operation.id.padEnd(18), ms.toFixed(0).padStart(6), "ms; longest without breath", gap.toFixed(0), "breaths", breaths, said);
}
