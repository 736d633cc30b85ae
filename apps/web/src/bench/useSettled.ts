import { useEffect, useState } from "react";

/** A value once it has stayed the same for some milliseconds; with 0 as it comes. For work too heavy for every step of a drag. */
export function useSettled<Value>(value: Value, wait: number): Value {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    if (wait === 0 || value === settled) return;
    const timer = setTimeout(() => setSettled(value), wait);
    return () => clearTimeout(timer);
  }, [value, settled, wait]);
  return wait === 0 ? value : settled;
}
