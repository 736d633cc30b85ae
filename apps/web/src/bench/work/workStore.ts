import {
  computedKind,
  operationById,
  type Outcome,
  type Pass,
  presentStepping,
  sayTiming,
  settingsSchema,
  type Shot,
  timingOf,
  WHOLE_FIGURE,
} from "@kneader/core";
import { create } from "zustand";
import { usePreferences } from "../../app/preferences.ts";
import { clock } from "../clock.ts";
import { lastCopied, pasteSettings } from "../copied.ts";
import { currentDocument, useDocuments } from "../documents.ts";
import { useSelection } from "../selection.ts";

/** The operation at hand, its settings, and what its preview said. */
interface WorkState {
  operation: string | null;
  settings: Record<string, unknown>;
  outcome: Outcome | null;
  problem: string;
  progress: number | null;
  open(operation: string, settings?: Record<string, unknown>): void;
  set(settings: Record<string, unknown>): void;
  close(): void;
}

/** Default settings as the operation's schema states them. */
function defaultsOf(operation: string): Record<string, unknown> {
  const { properties = {} } = settingsSchema(operationById(operation)) as { properties?: Record<string, { default?: unknown }> };
  return Object.fromEntries(
    Object.entries(properties).flatMap(([name, property]) => ("default" in property ? [[name, property.default]] : [])),
  );
}

/** The timing of the shot as it is, to be typed over; poses are those the pose tray shows. */
function presentTiming(): Record<string, unknown> {
  const shot = currentDocument();
  const { poseShare } = usePreferences.getState();
  return shot ? { list: sayTiming(timingOf(shot, WHOLE_FIGURE, poseShare).steps), share: poseShare * 100 } : {};
}

/** Settings that follow from where the user is: the playhead, the pose copied last. */
function situation(operation: string): Record<string, unknown> {
  if (operation === "paste-pose") return { from: useSelection.getState().copiedPose ?? clock.frame, to: clock.frame };
  const clip = lastCopied();
  if (operation === "paste-keys" && clip) return pasteSettings(clip);
  if (operation === "apply-action") return { at: clock.frame };
  if (operation === "scale-values" || operation === "key-missing") return { frame: clock.frame };
  if (operation === "set-timing") return presentTiming();
  if (operation === "insert-hold" || operation === "insert-frames") return { at: clock.frame };
  if (operation === "scale-time") return { pivot: useSelection.getState().range?.start ?? currentDocument()?.range.start ?? 1 };
  if (operation === "stepping") {
    const shot = currentDocument();
    const pass = chosenPass(shot, operation);
    return shot && pass ? presentStepping(shot, pass) : {};
  }
  const pass = chosenPass(currentDocument(), operation);
  if (pass) return { ...pass.settings };
  return {};
}

/** The chosen layer, where it is a computed pass that an operation makes. */
function chosenPass(shot: Shot | null, operation: string): Pass | undefined {
  const { layer } = useSelection.getState();
  return shot?.passes.find((pass) => pass.id === layer && computedKind(pass.kind)?.madeBy === operation);
}

export const useWork = create<WorkState>((set) => ({
  operation: null,
  settings: {},
  outcome: null,
  problem: "",
  progress: null,
  open(operation, settings = {}) {
    useDocuments.getState().setPreview(null);
    set({
      operation,
      settings: { ...defaultsOf(operation), ...situation(operation), ...settings },
      outcome: null,
      problem: "",
      progress: null,
    });
  },
  set(settings) {
    set({ settings });
  },
  close() {
    useDocuments.getState().setPreview(null);
    set({ operation: null, outcome: null, problem: "", progress: null });
  },
}));
