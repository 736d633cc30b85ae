import { useEffect, useState } from "react";

const nextMoment = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

/**
 * False in the first picture of whoever asks, true from the next one on, or once `moment` has come: what can wait a moment lets
 * the rest be seen sooner. `moment` must be the same function each time.
 */
export function useAfterFirst(moment: () => Promise<void> = nextMoment): boolean {
  const [after, setAfter] = useState(false);
  useEffect(() => {
    let wanted = true;
    void moment().then(() => {
      if (wanted) setAfter(true);
    });
    return () => {
      wanted = false;
    };
  }, [moment]);
  return after;
}
