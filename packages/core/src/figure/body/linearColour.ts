/** "#rrggbb" as red, green and blue, 0..1, linear (IEC 61966-2-1, the sRGB curve undone). */
export function linearColour(hex: string): [number, number, number] {
  return [1, 3, 5].map((at) => {
    const value = Number.parseInt(hex.slice(at, at + 2), 16) / 255;
    return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
}
