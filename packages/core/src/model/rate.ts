/** Frames a second as a ratio, so that 24000/1001 is exact. */
export interface Rate {
  readonly num: number;
  readonly den: number;
}

export function framesPerSecond(rate: Rate): number {
  return rate.num / rate.den;
}

export function rateFromFps(fps: number): Rate {
  for (const den of [1, 1001, 100, 1000]) {
    const num = den === 1001 ? Math.round(fps * 1.001) * 1000 : Math.round(fps * den);
    if (Math.abs(num / den - fps) < 1e-4 * fps) return { num, den };
  }
  return { num: Math.round(fps * 1e6), den: 1e6 };
}
