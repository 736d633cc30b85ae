import { type Numbers, quatMultiply, quatPower } from "./rotation.ts";

const back = new Float64Array(4);
const way = new Float64Array(4);

/** The turn a share of the shorter way from one to another (unit quaternions): a, turned on by (a⁻¹·b) to the power of the share. */
export function turnPartWay(out: Numbers, o: number, a: Numbers, ao: number, b: Numbers, bo: number, share: number): void {
  for (let k = 0; k < 3; k++) back[k] = -a[ao + k];
  back[3] = a[ao + 3];
  quatMultiply(way, 0, back, 0, b, bo);
  quatPower(way, 0, way, 0, share);
  quatMultiply(out, o, a, ao, way, 0);
}
