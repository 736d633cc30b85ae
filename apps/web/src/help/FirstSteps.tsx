import { Button } from "antd";
import { usePreferences } from "../app/preferences.ts";
import { commandShortcut } from "../bench/commandKeys.ts";
import { findOperation } from "../bench/work/findOperation.ts";

/** The five things that matter; in place of the list of operations until they were read, once. */
export function FirstSteps() {
  const keys = (id: string) => <kbd>{commandShortcut(id)}</kbd>;
  const read = () => {
    usePreferences.getState().set({ welcomed: true });
    findOperation();
  };
  return (
    <section className="first-steps" aria-label="First steps">
      <h2>Five things that matter here</h2>
      <ol>
        <li>
          {keys("play-pause")} plays, the arrows step frames, with <kbd>Shift</kbd> from key to key. Keys act on the bench whatever you
          clicked last.
        </li>
        <li>
          What is picked is what changes; with nothing picked it is the whole figure. The line at the lower right always says who, which
          curves, which frames.
        </li>
        <li>
          {keys("find-command")} finds anything by plain words, {keys("find-operation")} lists the operations. A card shows its result
          before you take it with <kbd>Enter</kbd>; <kbd>Esc</kbd> gives it up.
        </li>
        <li>
          Drag what you see: the figure, keys, the numbers between poses, bands of passes. Every number can be typed, also as +3 or *1.2.
        </li>
        <li>
          Passes lie on top of your motion and can be turned down, off and past 100 %. {keys("undo")} takes back anything, also after a
          reload; all is saved by itself.
        </li>
      </ol>
      <Button type="primary" onClick={read}>
        To the operations
      </Button>
    </section>
  );
}
