import { framesPerSecond } from "@kneader/core";
import { useSyncExternalStore } from "react";
import { shownDocument } from "./documents.ts";

/**
 * The playhead. It lives outside React: whoever draws subscribes, and only read-outs re-render, at whole
 * frames. Playback is at true speed, dropping frames rather than slowing.
 */
class Clock {
  frame = 1;
  playing = false;
  /** Frames shown in the last second of playback. */
  shownPerSecond = 0;
  loop = true;
  /** Share of the shot's own speed. */
  speed = 1;
  /** What is played instead of the shot's range; null: all of it. */
  span: { readonly start: number; readonly end: number } | null = null;
  private readonly listeners = new Set<() => void>();
  private started = 0;
  private startFrame = 1;
  private shown: number[] = [];

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  private tell(): void {
    for (const listener of this.listeners) listener();
  }

  /** Have everything that follows the playhead look again: what is shown at it has changed. */
  redraw(): void {
    this.tell();
  }

  set(frame: number): void {
    const next = Math.round(frame);
    if (this.playing) {
      this.started = performance.now();
      this.startFrame = next;
    }
    if (next === this.frame) return;
    this.frame = next;
    this.tell();
  }

  toggle(): void {
    if (this.playing) {
      this.playing = false;
      this.tell();
      return;
    }
    const shot = shownDocument();
    if (!shot) return;
    const { start, end } = this.span ?? shot.range;
    if (this.frame >= end || this.frame < start) this.frame = start;
    this.playing = true;
    this.started = performance.now();
    this.startFrame = this.frame;
    this.shown = [];
    this.tell();
    requestAnimationFrame(this.tick);
  }

  stop(): void {
    if (this.playing) this.toggle();
  }

  /** Where playback is at a time (milliseconds, as of the page), between frames too, counted on over the end of a round, and back before playback began. */
  frameAt(time: number): number {
    return this.playing ? this.course()(time) : this.frame;
  }

  /** The same for playback as it began now, whatever becomes of it later. */
  course(): (time: number) => number {
    const { started, startFrame, speed } = this;
    const shot = shownDocument();
    const fps = shot ? framesPerSecond(shot.rate) : 24;
    return (time) => startFrame + ((time - started) / 1000) * fps * speed;
  }

  private readonly tick = (now: number): void => {
    const shot = shownDocument();
    if (!this.playing || !shot) return;
    const { start, end: last } = this.span ?? shot.range;
    // A cycle's last frame is its first one again.
    const end = shot.cyclic && this.loop && this.span === null ? Math.max(start, last - 1) : last;
    const length = end - start + 1;
    let frame = Math.max(Math.floor(this.startFrame), Math.floor(this.frameAt(now)));
    if (frame > end) {
      if (!this.loop) {
        this.frame = end;
        this.playing = false;
        this.tell();
        return;
      }
      frame = start + ((frame - start) % length);
    }
    if (frame !== this.frame) {
      this.frame = frame;
      this.shown.push(now);
      while (this.shown.length > 0 && this.shown[0] < now - 1000) this.shown.shift();
      this.shownPerSecond = this.shown.length;
      this.tell();
    }
    requestAnimationFrame(this.tick);
  };
}

export const clock = new Clock();

/** The whole frame the playhead is on; re-renders the caller when it moves. */
export function useFrame(): number {
  return useSyncExternalStore(clock.subscribe, () => clock.frame);
}

export function usePlaying(): boolean {
  return useSyncExternalStore(clock.subscribe, () => clock.playing);
}

/** The frame at rest: while playing it stays what it was, so that heavy read-outs wait. */
export function useRestingFrame(): number {
  return useSyncExternalStore(clock.subscribe, restingFrame);
}

let resting = 1;
function restingFrame(): number {
  if (!clock.playing) resting = clock.frame;
  return resting;
}
