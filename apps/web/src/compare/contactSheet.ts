import type { Shot } from "@kneader/core";

const WIDTH = 150;
const HEIGHT = 190;
const NAME = 26;

/** Frames that show a shot at a glance: so many, evenly from its start to its end. */
export function sheetFrames({ start, end }: { start: number; end: number }, count: number): number[] {
  const many = Math.max(1, Math.min(count, Math.floor(end - start) + 1));
  return Array.from({ length: many }, (_, i) => Math.round(start + ((end - start) * i) / Math.max(1, many - 1)));
}

/** A picture of both sides, a row each, at the same frames: for whoever has to choose. Bytes of a PNG. */
export async function contactSheet(rows: readonly { name: string; shot: Shot }[], frames: readonly number[]): Promise<Uint8Array> {
  const { drawPicture, prepareFigure } = await import("../bench/view/thumbnails.ts");
  const canvas = document.createElement("canvas");
  canvas.width = WIDTH * frames.length;
  canvas.height = rows.length * (HEIGHT + NAME);
  const context = canvas.getContext("2d");
  if (!context) throw new Error("This browser draws no pictures, so there is no contact sheet.");
  context.fillStyle = "#FFFBF4";
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.textBaseline = "middle";
  for (const [r, { name, shot }] of rows.entries()) {
    await prepareFigure(shot);
    const top = r * (HEIGHT + NAME);
    context.fillStyle = "#2A2521";
    context.font = "600 14px Figtree, sans-serif";
    context.fillText(name, 8, top + NAME / 2);
    for (const [i, frame] of frames.entries()) {
      const address = drawPicture(shot, frame, WIDTH * 2, (HEIGHT - 18) * 2);
      if (!address) throw new Error("This browser draws no figures, so there is no contact sheet.");
      const image = new Image();
      image.src = address;
      await image.decode();
      context.drawImage(image, i * WIDTH, top + NAME, WIDTH, HEIGHT - 18);
      context.fillStyle = "#7A6F62";
      context.font = "12px 'Spline Sans Mono', monospace";
      context.fillText(String(frame), i * WIDTH + 8, top + NAME + HEIGHT - 9);
    }
  }
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/png"));
  if (!blob) throw new Error("The picture could not be made.");
  return new Uint8Array(await blob.arrayBuffer());
}
