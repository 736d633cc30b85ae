import { operationById, type Outcome, type Situation, settingsSchema } from "@kneader/core";
import { create } from "zustand";
import { usePreferences } from "../../app/preferences.ts";
import { clock } from "../clock.ts";
import { lastCopied } from "../copied.ts";
import { currentDocument, useDocuments } from "../documents.ts";
import { currentScope, useSelection } from "../selection.ts";
import { lengthScale, scaledLength } from "./lengthScale.ts";

/** The operation at hand, its settings, and what its preview said. */
interface WorkState {
  operation: string | null;
  settings: Record<string, unknown>;
  outcome: Outcome | null;
  problem: string;
  progress: number | null;
  /** It is to be applied as soon as it is worked out. */
  asked: boolean;
  /** The layer for which the list of operations is wanted in place of a card of its own. */
  listedFor: string | null;
  open(operation: string, settings?: Record<string, unknown>): void;
  set(settings: Record<string, unknown>): void;
  close(): void;
}

interface Property {
  readonly default?: unknown;
  readonly unit?: string;
}

/** Default settings as the operation's schema states them; lengths as they are in the scene of the shot. */
function defaultsOf(operation: string): Record<string, unknown> {
  const { properties = {} } = settingsSchema(operationById(operation)) as { properties?: Record<string, Property> };
  const shot = currentDocument();
  const scale = shot ? lengthScale(shot) : 1;
  const inScene = ({ default: usual, unit }: Property) =>
    unit === "length" && typeof usual === "number" ? scaledLength(usual, scale) : usual;
  return Object.fromEntries(
    Object.entries(properties).flatMap(([name, property]) => ("default" in property ? [[name, inScene(property)]] : [])),
  );
}

/** Where the user stands. */
export function situation(): Situation | null {
  const shot = currentDocument();
  const { copiedPose, poses, gaps } = useSelection.getState();
  const { poseShare } = usePreferences.getState();
  return (
    shot && {
      shot,
      scope: currentScope(),
      frame: clock.frame,
      copiedPose,
      copiedKeys: lastCopied(),
      poseShare,
      pickedPoses: poses,
      pickedGaps: gaps,
    }
  );
}

/** Settings that follow from where the user is: the playhead, the pose copied last. */
function proposed(operation: string): Record<string, unknown> {
  const at = situation();
  return { ...(at && operationById(operation).situation?.(at)) };
}

export const useWork = create<WorkState>((set) => ({
  operation: null,
  settings: {},
  outcome: null,
  problem: "",
  progress: null,
  asked: false,
  listedFor: null,
  open(operation, settings = {}) {
    useDocuments.getState().setPreview(null);
    // Who opens a card knows where the operations are.
    if (!usePreferences.getState().welcomed) usePreferences.getState().set({ welcomed: true });
    set({
      listedFor: null,
      operation,
      settings: { ...defaultsOf(operation), ...proposed(operation), ...settings },
      outcome: null,
      problem: "",
      progress: null,
      asked: false,
    });
  },
  set(settings) {
    // What was found for other settings must not be taken over.
    set({ settings, progress: 0 });
  },
  close() {
    useDocuments.getState().setPreview(null);
    set({ operation: null, outcome: null, problem: "", progress: null, asked: false });
  },
}));

let soon: { readonly operation: string; readonly settings: Record<string, unknown> } | null = null;

/** Open an operation on the bench that is gone to now, once the shot is there. */
export function openThere(operation: string, settings: Record<string, unknown>): void {
  soon = { operation, settings };
}

/** Open what was asked for before the shot was there. */
export function openAsked(): void {
  const asked = soon;
  soon = null;
  if (asked) useWork.getState().open(asked.operation, asked.settings);
}
