import { operationById, type Scope, type Shot, splitChannelKey } from "@kneader/core";
import { useEffect, useRef, useState } from "react";
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

interface Begun {
  readonly operation: string | null;
  readonly settings: Record<string, unknown>;
  readonly times: number;
}

/** Settings with which the work begins anew: the very same as long as work that goes on can be told the others. */
function useBegun(operation: string | null, settings: Record<string, unknown>, times: number): Begun {
  const begun = useRef<Begun>({ operation, settings, times });
  const { steers } = operation ? operationById(operation) : {};
  const { current } = begun;
  if (current.operation !== operation || current.times !== times || !steers?.(current.settings, settings))
    begun.current = { operation, settings, times };
  return begun.current;
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

  const [again, setAgain] = useState(0);
  const begun = useBegun(operation, settings, again);
  /** The job that goes on, and the settings it was told last. */
  const going = useRef<{ readonly job: Job; told: unknown; isDone: boolean } | null>(null);

  const work = useRef<Work | null>(null);
  useEffect(() => {
    if (!operation || readOnly) return;
    work.current = openWork(operation, shot);
    return () => work.current?.close();
  }, [operation, shot, readOnly]);

  useEffect(() => {
    const open = work.current;
    if (!operation || readOnly || !open) return;
    if (operationById(operation).waits?.(begun.settings)) {
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
        job = open.step(first, begun.settings, { firstLook: true });
        const part = await job.done.catch(() => null);
        if (!wanted) return;
        if (part) useDocuments.getState().setPreview(part.shot);
      }
      const { settings: latest } = useWork.getState();
      job = open.step(scope, latest, {
        progress: (progress) => wanted && !finished && useWork.setState({ progress }),
        show(outcome) {
          if (!wanted || finished) return;
          useWork.setState({ outcome, problem: "" });
          useDocuments.getState().setPreview(outcome.shot === shot ? null : outcome.shot);
        },
      });
      going.current = { job, told: latest, isDone: false };
      try {
        const outcome = await job.done;
        finished = true;
        if (going.current) going.current.isDone = true;
        if (!wanted) return;
        if (job.isBehind()) return setAgain((times) => times + 1);
        useWork.setState({ outcome, problem: "", progress: null });
        useDocuments.getState().setPreview(outcome.shot === shot ? null : outcome.shot);
      } catch (error) {
        finished = true;
        if (!wanted || error instanceof Cancelled) return;
        if (going.current) going.current.isDone = true;
        if (job.isBehind()) return setAgain((times) => times + 1);
        useWork.setState({ outcome: null, problem: (error as Error).message, progress: null });
        useDocuments.getState().setPreview(null);
      }
    }, REST);
    // What is kept while it goes on must have been found for these settings.
    useWork.setState({ progress: 0, ...(operationById(operation).steers && { outcome: null }) });
    return () => {
      wanted = false;
      going.current = null;
      clearTimeout(timer);
      job?.cancel();
    };
  }, [operation, shot, begun, controls, channels, keys, range, layer, everything, readOnly]);

  useEffect(() => {
    const { current } = going;
    if (!current || current.told === settings) return;
    current.told = settings;
    // What has come to its end begins anew.
    if (current.isDone) setAgain((times) => times + 1);
    else current.job.steer(settings);
  }, [settings]);
}
