import { type Action, framesPerSecond, noContext, operations, runOperation, type Shot, type Situation, sayError } from "@kneader/core";
import { create } from "zustand";
import { usePreferences } from "../../app/preferences.ts";
import { currentDocument, useDocuments } from "../documents.ts";
import { followPointer } from "../followPointer.ts";
import { keyPoses } from "../keyPoses.ts";
import { mention, tell } from "../notices.ts";
import { performSoon } from "../perform.ts";
import { currentScope, useSelection } from "../selection.ts";
import { situation } from "../work/workStore.ts";
import { clock } from "../clock.ts";
import { frameAt, useTimeAxis, xOf } from "../timeAxis.ts";

/** How an action goes in, by where it is dropped. */
type LayAs = "replace" | "insert" | "pass";

/** What an action that is being dragged would do if it were let go now. */
export interface Dragged {
  readonly action: Action;
  readonly x: number;
  readonly y: number;
  /** Null while it is over nothing that takes it. */
  readonly over: {
    readonly as: LayAs;
    readonly at: number;
    readonly end: number;
    readonly carry: boolean;
    /** It comes in and goes out over some frames, not at once. */
    readonly eases: boolean;
    readonly beside: string | null;
  } | null;
  /** What it says of what would be overwritten or left out. */
  readonly said: string;
  /** What is said is a warning. */
  readonly warns: boolean;
}

export const useLayDrag = create<{ dragged: Dragged | null }>(() => ({ dragged: null }));

/** Pixels within which a frame is drawn to a key pose, the playhead or the end of a band. */
const SNAP = 7;

/** The trays that take an action, and how it goes in there. */
const trays: readonly (readonly [selector: string, as: LayAs])[] = [
  [".tray.ruler", "replace"],
  [".pose-tray", "insert"],
  [".pass-tray", "pass"],
  [".detail", "replace"],
];

/** A row of bands and where it is on the screen. */
interface BandRow {
  readonly pass: string;
  readonly top: number;
  readonly bottom: number;
}

/** Rows as they are before the drag: what is tried puts a row of its own among them, which must not move the aim. */
function bandRows(): BandRow[] {
  return [...document.querySelectorAll<HTMLElement>("[data-band-row]")].map((element) => {
    const { top, bottom } = (element.closest(".tray") as HTMLElement).getBoundingClientRect();
    return { pass: element.dataset.bandRow as string, top, bottom };
  });
}

/** Where an action lies under the pointer: which tray, at which frame. */
function placeAt(action: Action, shot: Shot, rows: readonly BandRow[], event: PointerEvent): Dragged["over"] {
  const under = document.elementFromPoint(event.clientX, event.clientY);
  const found = under && trays.find(([selector]) => under.closest(selector));
  const plot = document.querySelector(".ruler-plot")?.getBoundingClientRect();
  if (!found || !plot) return null;
  const axis = useTimeAxis.getState();
  const free = Math.round(frameAt(axis, event.clientX - plot.left));
  const near = snapsOf(shot)
    .map((frame) => ({ frame, off: Math.abs(xOf(axis, frame) - (event.clientX - plot.left)) }))
    .sort((a, b) => a.off - b.off)[0];
  const at = near && near.off < SNAP ? near.frame : free;
  const end = at + action.clip.length * (framesPerSecond(shot.rate) / framesPerSecond(action.clip.rate));
  const row = rows.find(({ top, bottom }) => event.clientY >= top && event.clientY < bottom);
  return { as: found[1], at, end, carry: !event.altKey, eases: !event.shiftKey, beside: found[1] === "pass" ? (row?.pass ?? null) : null };
}

function snapsOf(shot: Shot): number[] {
  const poses = keyPoses(shot, usePreferences.getState().poseShare).map(({ frame }) => frame);
  return [...poses, clock.frame, ...shot.passes.flatMap(({ range }) => (range ? [range.start, range.end] : []))];
}

const settingsFor = (action: Action, over: NonNullable<Dragged["over"]>) =>
  operations.layAction.settings.parse({
    action,
    at: over.at,
    as: over.as,
    carry: over.carry && action.clip.length > 0,
    beside: over.beside ?? "",
    ...(over.eases ? operations.layAction.situation?.({ ...situation(), frame: over.at } as Situation) : { easeIn: 0, easeOut: 0 }),
  });

/** Drag an action over the trays: what it would do is shown as it goes, and done when it is let go. Esc gives up. */
export function dragAction(action: Action, { clientX, clientY }: { clientX: number; clientY: number }): void {
  const shot = currentDocument();
  if (!shot) return;
  const rows = bandRows();
  let over: Dragged["over"] = null;
  let asked = 0;
  let moved = false;
  const end = () => {
    useLayDrag.setState({ dragged: null });
    useDocuments.getState().setPreview(null);
    asked = -1;
  };
  const preview = async (place: NonNullable<Dragged["over"]>) => {
    const mine = ++asked;
    try {
      const { shot: after, report } = await runOperation(operations.layAction, shot, currentScope(), settingsFor(action, place), noContext);
      if (mine !== asked) return;
      useDocuments.getState().setPreview(after);
      const said = [...report.warnings, ...report.notes][0] ?? "";
      useLayDrag.setState(({ dragged }) => ({ dragged: dragged && { ...dragged, said, warns: report.warnings.length > 0 } }));
    } catch (error) {
      if (mine !== asked) return;
      useDocuments.getState().setPreview(null);
      useLayDrag.setState(({ dragged }) => ({ dragged: dragged && { ...dragged, said: sayError(error), warns: true } }));
    }
  };
  followPointer({
    move(event) {
      if (!moved && Math.hypot(event.clientX - clientX, event.clientY - clientY) < 4) return;
      moved = true;
      const next = placeAt(action, shot, rows, event);
      const isSame =
        next &&
        over &&
        next.at === over.at &&
        next.as === over.as &&
        next.carry === over.carry &&
        next.eases === over.eases &&
        next.beside === over.beside;
      const known = isSame ? useLayDrag.getState().dragged : null;
      const { said, warns } = known ?? { said: "", warns: false };
      useLayDrag.setState({ dragged: { action, x: event.clientX, y: event.clientY, over: next, said, warns } });
      if (!next) useDocuments.getState().setPreview(null);
      else if (!isSame) void preview(next);
      over = next;
    },
    done() {
      const place = over;
      end();
      if (place) void lay(action, place);
    },
    cancel: end,
  });
}

/** Lay an action where it was dropped: one step of the history, the new pass chosen. */
async function lay(action: Action, over: NonNullable<Dragged["over"]>): Promise<void> {
  const before = new Set(currentDocument()?.passes.map(({ id }) => id));
  try {
    const report = await performSoon(operations.layAction, settingsFor(action, over), currentScope());
    const made = currentDocument()?.passes.findLast(({ id }) => !before.has(id));
    if (made) useSelection.getState().setLayer(made.id);
    mention([report.summary, ...report.warnings, ...report.notes].join(". ").replaceAll("..", "."));
  } catch (error) {
    tell(sayError(error));
  }
}
