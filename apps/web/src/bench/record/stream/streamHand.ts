import { clock } from "../../clock.ts";
import { type CaptureFrame, makePlayer, poseOfCapture, sayError, type Shot, takeOfCapture, type Take, withRoomFor } from "@kneader/core";
import { currentDocument, useDocuments } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { CaptureLine } from "./captureLine.ts";
import { useStream } from "./streamState.ts";

let line: CaptureLine | null = null;
let next = 0;

/** Connect to the device and show it live on the figure, or let it go. */
export function toggleLine(): void {
  if (line) {
    letGo();
    return;
  }
  line = new CaptureLine();
  let newest: CaptureFrame | null = null;
  line.onFrame = (frame) => {
    newest = frame;
  };
  line.open();
  const show = () => {
    next = requestAnimationFrame(show);
    const frame = newest;
    newest = null;
    if (frame) showFrame(frame);
  };
  next = requestAnimationFrame(show);
}

export function letGo(): void {
  cancelAnimationFrame(next);
  line?.close();
  line = null;
  useDocuments.getState().setLive(null);
}

export const isConnected = (): boolean => line?.header != null;

/** For trying what becomes of it: the line is lost, and found again by itself. */
export const loseLine = (): void => line?.lose();

let live: { shot: Shot; values: Record<string, number>; player: ReturnType<typeof makePlayer> } | null = null;

/** One picture of the device on the figure: over the whole of what plays, on the controls that are matched and meant. */
function showFrame(frame: CaptureFrame): void {
  const shot = currentDocument();
  const header = line?.header;
  if (!shot || !header) return;
  try {
    const pose = meant(poseOfCapture(header, frame, shot.rig));
    if (live?.shot !== shot || Object.keys(pose).some((key) => !(key in (live?.values ?? {})))) {
      const keys = Object.keys(pose);
      const values: Record<string, number> = { ...pose };
      const room = withRoomFor({ ...shot, passes: [] }, { layer: "base", keys });
      const player = makePlayer(room, { live: { layer: "base", keys, read: (n) => values[keys[n]] } });
      live = { shot, values, player };
    }
    Object.assign(live.values, pose);
    // The player stays the same one as long as it can: then only the figure is drawn anew.
    if (useDocuments.getState().live?.player === live.player) clock.redraw();
    else useDocuments.getState().setLive(live.player);
  } catch (error) {
    useStream.setState({ problem: sayError(error) });
  }
}

/** The values of the picked controls; with nothing picked, of all. */
function meant(pose: Record<string, number>): Record<string, number> {
  const { controls } = useSelection.getState();
  if (controls.length === 0) return pose;
  return Object.fromEntries(Object.entries(pose).filter(([key]) => controls.includes(key.slice(0, key.lastIndexOf(".")))));
}

/** A take begins, with what came before the button. */
export function beginCapture(): void {
  line?.receiver?.begin(useStream.getState().preRoll);
}

/** The take that was begun, in frames of the shot; what was missing is said with it. Null when nothing came. */
export function endCapture(
  below: Shot,
  id: string,
  name: string,
  end: number,
  course: (time: number) => number,
): { take: Take; said: string } | null {
  const { header, receiver } = line ?? {};
  if (!header || !receiver) return null;
  const { frames, gaps } = receiver.end();
  if (frames.length < 2) return null;
  const at = (frame: CaptureFrame) => course(receiver.ownTime(frame.clock) * 1000);
  const [first, last] = [at(frames[0]), at(frames[frames.length - 1])];
  const step = (last - first) / (frames[frames.length - 1].sequence - frames[0].sequence);
  const { controls } = useSelection.getState();
  const made = takeOfCapture(
    header,
    frames,
    makePlayer(below, { free: true }),
    { first, step },
    {
      id,
      name,
      controls: controls.length > 0 ? controls : null,
    },
  );
  if (!made) return null;
  const missing = gaps.reduce((sum, { start, end }) => sum + end - start + 1, 0);
  const listed = gaps
    .slice(0, 6)
    .map(({ start, end }) => (start === end ? String(start) : `${start}–${end}`))
    .join(", ");
  const said =
    missing === 0
      ? `${frames.length} frames of the device, none missing`
      : `${missing} of its frames missing and filled: ${listed}${gaps.length > 6 ? " …" : ""}`;
  // What came in after the last frame is not of the shot.
  const length = Math.max(1, end - made.take.start + 1);
  const values = Object.fromEntries(Object.entries(made.take.values).map(([key, column]) => [key, column.slice(0, length)]));
  return { take: { ...made.take, values }, said };
}
