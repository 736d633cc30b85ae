import { create } from "zustand";

/** Something to be told once: why a change was refused, or what is good to know of one that was made. */
interface Notice {
  readonly kind: "refused" | "said" | "offer";
  readonly text: string;
  /** What can be done about it at once. */
  readonly offer?: { readonly label: string; run(): void };
}

/** What is still to be shown: of two things told at one go none is lost. */
export const useNotices = create<{ waiting: readonly Notice[] }>(() => ({ waiting: [] }));

const put = (notice: Notice) => useNotices.setState(({ waiting }) => ({ waiting: [...waiting, notice] }));

/** Tell on the bench why something was not done. */
export function tell(reason: string): void {
  put({ kind: "refused", text: reason });
}

/** Tell what is good to know of something that was done. */
export function mention(text: string): void {
  put({ kind: "said", text });
}

/** Tell something with what can be done about it. */
export function offer(text: string, label: string, run: () => void): void {
  put({ kind: "offer", text, offer: { label, run } });
}
