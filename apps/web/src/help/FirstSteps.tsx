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
          {keys("play-pause")} plays, arrows step, with <kbd>Shift</kbd> from key to key, whatever was clicked last.
        </li>
        <li>What is picked is what changes; nothing picked means the whole figure. The line at the lower right says it.</li>
        <li>
          {keys("find-command")} finds anything by plain words, {keys("find-operation")} lists operations. <kbd>Enter</kbd> takes a result,{" "}
          <kbd>Esc</kbd> gives it up.
        </li>
        <li>Drag the figure, keys, numbers between poses, bands of passes; or type: 12, +3, *1.2.</li>
        <li>Passes lie on top and can be turned down or off. {keys("undo")} takes back anything; all is saved by itself.</li>
      </ol>
      <Button type="primary" onClick={read}>
        To the operations
      </Button>
    </section>
  );
}
