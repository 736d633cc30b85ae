import { operationById, type Scope, type Shot, splitChannelKey } from "@kneader/core";
import { useEffect, useRef } from "react";
import { openWork } from "../../workers/operations.ts";
import { Cancelled, type Job, type Work } from "../../workers/operationsLink.ts";
import { useDocuments, useReadOnly, useShot } from "../documents.ts";
import { scopeOf, useSelection } from "../selection.ts";
import { useChannelView } from "../rack/channels/channelView.ts";
import { shownChannels } from "../rack/curves/shownCurves.ts";
import { isLong } from "../useSettled.ts";
import { useWork } from "./workStore.ts";

/** Let a slider come to rest for a moment before the worker is asked. */
const REST = 16;

/** The part of a long shot that is worked out and shown before the rest: the controls whose curves are drawn. */
function firstPart(operation: string, shot: Shot, scope: Scope): Scope | null {
  if (!operationById(operation).byControl || !isLong(shot) || scope.controls !== null || scope.keys !== null) return null;
  const shown = shownChannels(shot, scope.layer, [], [], useChannelView.getState().hidden);
  return { ...scope, controls: [...new Set(shown.map((key) => splitChannelKey(key).control))] };
}

/** Runs the operation at hand in the worker whenever shot, scope or settings change; shows its result. */
export function useLivePreview(): void {
  const shot = useShot();
  const readOnly = useReadOnly();
  const operation = useWork((state) => state.operation);
  const settings = useWork((state) => state.settings);
  const controls = useSelection((state) => state.controls);
  const channels = useSelection((state) => state.channels);
  const keys = useSelection((state) => state.keys);
  const range = useSelection((state) => state.range);
  const layer = useSelection((state) => state.layer);
  const everything = useSelection((state) => state.everything);

  const work = useRef<Work | null>(null);
  useEffect(() => {
    if (!operation || readOnly) return;
    work.current = openWork(operation, shot);
    return () => work.current?.close();
  }, [operation, shot, readOnly]);

  useEffect(() => {
    const open = work.current;
    if (!operation || readOnly || !open) return;
    if (operationById(operation).waits?.(settings)) {
      useWork.setState({ outcome: null, problem: "", progress: null });
      useDocuments.getState().setPreview(null);
      return;
    }
    let job: Job | null = null;
    let wanted = true;
    // Progress travels on a channel of its own and may arrive after the result.
    let finished = false;
    const timer = setTimeout(async () => {
      const scope = scopeOf({ controls, channels, keys, range, layer, everything });
      const first = firstPart(operation, shot, scope);
      if (first) {
        job = open.step(first, settings, { firstLook: true });
        const part = await job.done.catch(() => null);
        if (!wanted) return;
        if (part) useDocuments.getState().setPreview(part.shot);
      }
      job = open.step(scope, settings, {
        progress: (progress) => wanted && !finished && useWork.setState({ progress }),
      });
      try {
        const outcome = await job.done;
        finished = true;
        if (!wanted) return;
        useWork.setState({ outcome, problem: "", progress: null });
        useDocuments.getState().setPreview(outcome.shot === shot ? null : outcome.shot);
      } catch (error) {
        finished = true;
        if (!wanted || error instanceof Cancelled) return;
        useWork.setState({ outcome: null, problem: (error as Error).message, progress: null });
        useDocuments.getState().setPreview(null);
      }
    }, REST);
    useWork.setState({ progress: 0 });
    return () => {
      wanted = false;
      clearTimeout(timer);
      job?.cancel();
    };
  }, [operation, shot, settings, controls, channels, keys, range, layer, everything, readOnly]);
}
