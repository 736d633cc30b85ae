/** Small shapes of time that the shots are made of. */
export const TAU = Math.PI * 2;

/** A sine wave; `turns` counts whole cycles. */
export const wave = (turns: number) => Math.sin(turns * TAU);

/** From 0 to 1 with an ease at both ends; held outside. */
export const soft = (x: number) => {
  const t = Math.min(1, Math.max(0, x));
  return t * t * (3 - 2 * t);
};

export const mix = (a: number, b: number, x: number) => a + (b - a) * x;
