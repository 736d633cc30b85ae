import { BVHLoader } from "three/examples/jsm/loaders/BVHLoader.js";
import { curveToBytes } from "../packages/core/src/formats/curveBytes.ts";
import { readBvh } from "../packages/core/src/formats/bvhRead.ts";
import { allCurves, mapCurves } from "../packages/core/src/model/shotFields.ts";
import { captureBytes } from "./capture.ts";
import { atMost, medians, ratio, type Row } from "./measure.ts";

export async function benchFiles(): Promise<Row[]> {
  const text = new TextDecoder().decode(captureBytes);
  const loader = new BVHLoader();
  const times = await medians(
    {
      ours: () => readBvh({ bytes: captureBytes, name: "capture" }),
      three: () => loader.parse(text),
    },
    2000,
  );
  const { shot } = readBvh({ bytes: captureBytes, name: "capture" });
  const saving = await medians({
    ours: () => {
      let bytes = 0;
      for (const [, curve] of allCurves(shot)) bytes += curveToBytes(curve).byteLength;
      return bytes + JSON.stringify(mapCurves(shot, () => "key" as never)).length;
    },
  });
  const megabytes = captureBytes.length / 1e6;
  return [
    ratio(
      "BVH read, 264 192 samples",
      { measured: times, ours: "ours", theirs: "three", name: "three BVHLoader" },
      15,
      `${Math.round((megabytes / times.ours) * 1000)} MB a second`,
    ),
    atMost("The whole shot encoded for autosave, 264 192 samples", saving.ours, 20),
  ];
}
