import { pickedCount } from "@kneader/core";
import { useDocuments, useShot } from "../bench/documents.ts";
import { usePointerHeld } from "../bench/followPointer.ts";
import { useWork } from "../bench/work/workStore.ts";
import { sayScope } from "../bench/sayScope.ts";
import { scopeOf, useSelection } from "../bench/selection.ts";

/** One line at the bottom: what a gesture would do, and what the next operation will touch. */
export function StatusBar() {
  const shot = useShot();
  const selection = useSelection();
  const preview = useDocuments((state) => state.preview !== null);
  const trying = useWork((state) => state.operation !== null);
  const held = usePointerHeld((state) => state.held);
  return (
    <footer className="status">
      <span className="quiet">
        {preview && held && !trying ? (
          <>
            Let go to keep it, <kbd>Esc</kbd> leaves it as it was.
          </>
        ) : preview ? (
          "A preview is shown; nothing is changed until you apply it."
        ) : pickedCount(selection.keys) > 0 ? (
          <>
            Drag the picked keys, or middle drag from anywhere. <kbd>Shift</kbd> holds one direction, <kbd>Alt</kbd> takes later keys along,{" "}
            <kbd>Ctrl</kbd> leaves a copy.
          </>
        ) : (
          <>
            Wheel zooms time, <kbd>Shift</kbd> wheel values, <kbd>Space</kbd> drag pans. Drag a gap to retime; with <kbd>Alt</kbd> later
            poses stay.
          </>
        )}
      </span>
      <span data-testid="scope">
        {sayScope(shot, scopeOf(selection))}
        {selection.copiedPose !== null ? ` · pose of ${selection.copiedPose} copied` : ""}
      </span>
    </footer>
  );
}
