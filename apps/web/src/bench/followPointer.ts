import { create } from "zustand";

/** Is something being dragged? Heavy work waits until it is let go. */
export const usePointerHeld = create<{ held: boolean }>(() => ({ held: false }));

interface Steps {
  move(event: PointerEvent): void;
  /** The pointer was let go. */
  done(): void;
  /** Esc was pressed, or the system took the pointer away. */
  cancel(): void;
}

/** Follow the pointer from a press until it is let go, wherever on the screen it goes. */
export function followPointer({ move, done, cancel }: Steps): void {
  const stop = () => {
    usePointerHeld.setState({ held: false });
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", up);
    window.removeEventListener("pointercancel", giveUp);
    window.removeEventListener("keydown", key, { capture: true });
  };
  const up = () => {
    stop();
    done();
  };
  const giveUp = () => {
    stop();
    cancel();
  };
  const key = (event: KeyboardEvent) => {
    if (event.key !== "Escape") return;
    event.stopPropagation();
    giveUp();
  };
  usePointerHeld.setState({ held: true });
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", up);
  window.addEventListener("pointercancel", giveUp);
  window.addEventListener("keydown", key, { capture: true });
}
