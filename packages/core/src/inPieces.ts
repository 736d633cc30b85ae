/** Run work that yields its share to the end; `breathe` is awaited at each share. */
export async function inPieces<Result>(work: Generator<number, Result>, breathe: (share: number) => Promise<void> | void): Promise<Result> {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    await breathe(step.value);
  }
}

/** Run work that yields its share to the end at once. */
export function atOnce<Result>(work: Generator<number, Result>): Result {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}
