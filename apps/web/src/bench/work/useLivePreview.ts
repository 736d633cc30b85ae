import { useEffect } from "react";
import { Cancelled, type Job, runOperation } from "../../workers/operations.ts";
import { useDocuments, useReadOnly, useShot } from "../documents.ts";
import { scopeOf, useSelection } from "../selection.ts";
import { useWork } from "./workStore.ts";

/** Let a slider come to rest for a moment before the worker is asked. */
const REST = 40;

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

  useEffect(() => {
    if (!operation || readOnly) return;
    let job: Job | null = null;
    let wanted = true;
    // Progress travels on a channel of its own and may arrive after the result.
    let finished = false;
    const timer = setTimeout(async () => {
      job = runOperation(
        operation,
        shot,
        scopeOf({ controls, channels, keys, range, layer }),
        settings,
        (progress) => wanted && !finished && useWork.setState({ progress }),
      );
      try {
        const outcome = await job.done;
        finished = true;
        if (!wanted) return;
        useWork.setState({ outcome, problem: "", progress: null });
        useDocuments.getState().setPreview(outcome.shot === shot || outcome.action ? null : outcome.shot);
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
  }, [operation, shot, settings, controls, channels, keys, range, layer, readOnly]);
}
