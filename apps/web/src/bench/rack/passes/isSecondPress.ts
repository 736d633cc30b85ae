/** Milliseconds and pixels within which two presses are one double press. */
const SOON = 350;
const NEAR = 5;

let last = { at: Number.NEGATIVE_INFINITY, x: 0, y: 0 };

/** Is this press the second of a double press? A press may begin a drag, so a double click comes too late to ask. */
export function isSecondPress({ timeStamp, clientX, clientY }: React.PointerEvent): boolean {
  const second = timeStamp - last.at < SOON && Math.abs(clientX - last.x) < NEAR && Math.abs(clientY - last.y) < NEAR;
  last = { at: second ? Number.NEGATIVE_INFINITY : timeStamp, x: clientX, y: clientY };
  return second;
}
