import { operations, type Pass, playedAction, playOf, stretchOf, WHOLE_FIGURE } from "@kneader/core";
import { currentDocument, useDocuments } from "../../documents.ts";
import { followPointer } from "../../followPointer.ts";
import { performOrTell } from "../../perform.ts";
import { frameAt, useTimeAxis } from "../../timeAxis.ts";

type Told = Parameters<typeof operations.changeBand.run>[2]["to"];

/**
 * Drag a band that plays an action, live: the whole of it moves, an end trims it; with Alt an end makes it quicker or
 * slower, with Shift the last end gives it more rounds. One step when let go, Esc gives up.
 */
export function dragPlay(pass: Pass, grip: "start" | "end" | "whole", { clientX }: { clientX: number }): void {
  const shot = currentDocument();
  const action = shot && playedAction(shot, pass);
  if (!shot || !action) return;
  const told = playOf(pass);
  const stretch = stretchOf(action.clip, shot.rate, told.speed);
  let next: Told = {};
  const at = (by: number, keys: { altKey: boolean; shiftKey: boolean }): Told => {
    if (grip === "whole") return { start: told.start + by };
    const span = (told.to - told.from) * stretch * told.rounds;
    if (grip === "start" && keys.altKey) {
      const taken = Math.max(1, span - by);
      return { start: told.start + span - taken, speed: speedFor(told.speed, span, taken) };
    }
    if (grip === "start") {
      const from = Math.min(told.to - 1, Math.max(0, told.from + by / stretch));
      return { from, start: told.start + (from - told.from) * stretch };
    }
    if (keys.altKey) return { speed: speedFor(told.speed, span, Math.max(1, span + by)) };
    const period = (told.to - told.from) * stretch;
    if (keys.shiftKey) return { rounds: Math.min(1000, Math.max(1, Math.round((span + by) / period))) };
    return { to: Math.min(action.clip.length, Math.max(told.from + 1, told.to + by / stretch / told.rounds)) };
  };
  followPointer({
    move(now) {
      const axis = useTimeAxis.getState();
      next = at(Math.round(frameAt(axis, now.clientX - clientX) - frameAt(axis, 0)), now);
      try {
        useDocuments.getState().setPreview(operations.changeBand.run(shot, WHOLE_FIGURE, { pass: pass.id, to: next }).shot);
      } catch {
        useDocuments.getState().setPreview(null);
      }
    },
    done() {
      useDocuments.getState().setPreview(null);
      const isMoved = (Object.keys(next) as (keyof Told)[]).some((name) => next[name] !== told[name as keyof typeof told]);
      if (isMoved) performOrTell(operations.changeBand, { pass: pass.id, to: next });
    },
    cancel: () => useDocuments.getState().setPreview(null),
  });
}

const speedFor = (speed: number, span: number, taken: number) => Math.min(10000, Math.max(1, (speed * span) / taken));
