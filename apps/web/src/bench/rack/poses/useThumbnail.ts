import type { Shot } from "@kneader/core";
import { useEffect, useState } from "react";
import { usePointerHeld } from "../../followPointer.ts";
import { afterFirstPicture } from "../../view/firstPicture.ts";

type Draw = typeof import("../../view/thumbnails.ts");
let loading: Promise<Draw> | null = null;
let queue: Promise<void> = Promise.resolve();

/** A picture is not put off for longer, however busy the bench is (milliseconds). */
const PUT_OFF = 60;

/** One picture after the other, each when there is nothing else to do, so that the bench stays quick. */
function later<T>(work: () => T): Promise<T> {
  const turn = queue.then(() => new Promise<T>((resolve) => requestIdleCallback(() => resolve(work()), { timeout: PUT_OFF })));
  queue = turn.then(
    () => undefined,
    () => undefined,
  );
  return turn;
}

/** How long a picture must be wanted before it is drawn: none is for a pose that only passes while the tray is panned, or for a preview that is soon another. */
const SETTLED = 400;

/** A small picture of the figure at a frame; the one before stays until the new one is drawn, which waits for the end of a drag. */
export function useThumbnail(shot: Shot, frame: number, width: number, height: number, settled = SETTLED): string | null {
  const [picture, setPicture] = useState<string | null>(null);
  const held = usePointerHeld((state) => state.held);
  useEffect(() => {
    if (held) return;
    let wanted = true;
    const timer = setTimeout(async () => {
      await afterFirstPicture();
      if (!wanted) return;
      loading ??= import("../../view/thumbnails.ts");
      const { drawPicture, prepareFigure } = await loading;
      await prepareFigure(shot);
      const drawn = await later(() => (wanted ? drawPicture(shot, frame, width, height) : null));
      if (wanted && drawn) setPicture(drawn);
    }, settled);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [shot, frame, width, height, held, settled]);
  return picture;
}
