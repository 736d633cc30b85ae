import {
  liveResult,
  type LiveResult,
  makePlayer,
  operationById,
  operations,
  type Player,
  type PullBy,
  sayError,
  type Shot,
  WHOLE_FIGURE,
} from "@kneader/core";
import { usePreferences } from "../../../app/preferences.ts";
import { clock } from "../../clock.ts";
import { currentDocument, useDocuments } from "../../documents.ts";
import { tell } from "../../notices.ts";
import { followPointer } from "../../followPointer.ts";
import { pacedPreview } from "../../pacedPreview.ts";
import { performOrTell } from "../../perform.ts";
import { useSelection } from "../../selection.ts";
import { useWork } from "../../work/workStore.ts";

/** A press that goes no further than this (pixels) only picks. */
const SLACK = 4;

const otherWay: Record<PullBy, PullBy> = { turn: "reach", reach: "turn" };

interface Gesture {
  readonly start: PointerEvent;
  readonly frame: number;
  /** It is pulled at the playhead, which stays there meanwhile; else what changes is seen in its arc alone. */
  readonly isAtPlayhead: boolean;
  /** The control the step of the history is named after. */
  readonly control: string;
  /** The channel values that are wanted with the pointer there; null: nothing to pull to. Raises why it gives no way. */
  values(player: Player, by: PullBy, event: PointerEvent): Record<string, number> | null;
  /** The pointer was let go. */
  ended(): void;
}

/**
 * From a press on something that can be pulled: it follows the pointer, and the difference lands in the chosen layer. Within
 * a marked range a pass is nudged. With Alt it gives way the other way; Esc leaves everything as it was.
 */
export function pullGesture({ start, frame, isAtPlayhead, control, values, ended }: Gesture): void {
  const shot = currentDocument();
  const { open, current, setLive } = useDocuments.getState();
  if (!shot || (current !== null && open[current]?.readOnly)) {
    ended();
    return;
  }
  const { operation } = useWork.getState();
  const { layer, range } = useSelection.getState();
  const preview = pacedPreview();
  const scope = { ...WHOLE_FIGURE, layer, range };
  const player = makePlayer(shot);
  /** The live figure for what gives way; Alt may change that in the middle of a drag. */
  const lives = new Map<string, LiveResult>();
  let last: { frame: number; values: Record<string, number>; pulled: string } | null = null;
  let problem: string | null = null;
  let pulling = false;

  const show = (wanted: Record<string, number>, keyed: () => Shot) => {
    const name = Object.keys(wanted).join();
    // Before anything moves it is known whether keys there would be taken and seen; if not, this says why.
    if (!lives.has(name)) {
      keyed();
      lives.set(name, liveResult(shot, layer, frame, Object.keys(wanted)));
    }
    const live = lives.get(name) as LiveResult;
    if (frame === clock.frame) setLive(live.aim(wanted) ? live.player : null);
    preview.show(keyed);
  };
  const pull = (event: PointerEvent) => {
    const { pullBy } = usePreferences.getState();
    try {
      const wanted = values(player, event.altKey ? otherWay[pullBy] : pullBy, event);
      if (!wanted) return;
      const settings = { frame, values: wanted, pulled: control };
      show(settings.values, () => operations.keyPulled.run(shot, scope, settings).shot);
      last = settings;
    } catch (error) {
      problem = sayError(error);
    }
  };
  const stop = () => {
    setLive(null);
    preview.stop();
  };
  followPointer({
    move(event) {
      pulling ||= Math.hypot(event.clientX - start.clientX, event.clientY - start.clientY) > SLACK;
      // What is seen then is not the shot yet.
      if (!pulling || operation !== null) return;
      clock.stop();
      if (isAtPlayhead) clock.set(frame);
      pull(event);
    },
    done() {
      ended();
      if (!pulling) return;
      if (operation !== null) {
        const { title } = operationById(operation);
        tell(`${title} is being tried. Apply or cancel it, then the figure can be pulled.`);
        return;
      }
      stop();
      if (last === null && problem !== null) tell(problem);
      if (last && currentDocument() === shot) performOrTell(operations.keyPulled, last, scope);
    },
    cancel() {
      ended();
      if (pulling && operation === null) stop();
    },
  });
}
