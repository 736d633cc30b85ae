import { useEffect, useState } from "react";

/** False in the first picture of whoever asks, true from the next one on: what can wait a moment lets the rest be seen sooner. */
export function useAfterFirst(): boolean {
  const [after, setAfter] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setAfter(true), 0);
    return () => clearTimeout(timer);
  }, []);
  return after;
}
