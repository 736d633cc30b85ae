import { create } from "zustand";

/** Values seen in the curve tray. `fitted` follows the curves until the user zooms or pans. */
interface ValueAxis {
  low: number;
  high: number;
  fitted: boolean;
  height: number;
  show(low: number, high: number): void;
  fit(): void;
  setHeight(height: number): void;
}

export const useValueAxis = create<ValueAxis>((set) => ({
  low: -1,
  high: 1,
  fitted: true,
  height: 300,
  show: (low, high) => {
    if (high - low > 1e-9 && high - low < 1e9) set({ low, high, fitted: false });
  },
  fit: () => set({ fitted: true }),
  setHeight: (height) => {
    if (height > 0) set({ height });
  },
}));

export function yOf(axis: { low: number; high: number; height: number }, value: number): number {
  return axis.height - ((value - axis.low) / (axis.high - axis.low)) * axis.height;
}

export function valueAt(axis: { low: number; high: number; height: number }, y: number): number {
  return axis.low + ((axis.height - y) / axis.height) * (axis.high - axis.low);
}
