import type { BeforeAfter } from "./beforeAfter.ts";

const WIDTH = 480;
const HEIGHT = 150;
const ROOM = 10;

/** A curve before, as a pale band, and after, as a crisp line. */
export function BeforeAfterPicture({ title, start, before, after }: BeforeAfter) {
  const all = [...before, ...after];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const x = (n: number) => ROOM + (n / Math.max(1, before.length - 1)) * (WIDTH - 2 * ROOM);
  const y = (value: number) => HEIGHT - ROOM - ((value - low) / Math.max(1e-9, high - low)) * (HEIGHT - 2 * ROOM);
  const points = (row: readonly number[]) => row.map((value, n) => `${x(n).toFixed(1)},${y(value).toFixed(1)}`).join(" ");
  return (
    <figure className="before-after">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={`${title} before and after`}>
        <polyline className="was" points={points(before)} />
        <polyline className="is" points={points(after)} />
      </svg>
      <figcaption className="quiet">
        {title}, frames {start} to {start + before.length - 1}: before as a pale band, after as a line.
      </figcaption>
    </figure>
  );
}
