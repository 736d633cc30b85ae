/** A number from −1 to 1 that belongs to a seed and two counts: always the same one (a mixing of bits as in MurmurHash3's last steps). */
export function drawFrom(seed: number, a: number, b: number): number {
  let h = (Math.imul(seed, 0x9e3779b1) ^ Math.imul(a + 1, 0x85ebca6b) ^ Math.imul(b + 1, 0xc2b2ae35)) >>> 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  h = (h ^ (h >>> 16)) >>> 0;
  return (h / 0xffffffff) * 2 - 1;
}
