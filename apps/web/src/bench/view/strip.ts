import { findPoses, type Shot, WHOLE_FIGURE } from "@kneader/core";
import { drawPicture, prepareFigure } from "./thumbnails.ts";

/** Frames that tell what happens: key poses when there are a few, evenly spread ones otherwise. */
function tellingFrames(shot: Shot, count: number): number[] {
  const { start, end } = shot.range;
  if (end <= start) return [start];
  const poses = findPoses(shot, WHOLE_FIGURE, 0.5)
    .map((pose) => pose.frame)
    .filter((frame) => frame >= start && frame <= end);
  const even = Array.from({ length: count }, (_, i) => Math.round(start + ((end - start) * (i + 0.5)) / count));
  if (poses.length < count || poses.length > (end - start) / 2) return even;
  return Array.from({ length: count }, (_, i) => poses[Math.round((i * (poses.length - 1)) / Math.max(1, count - 1))]);
}

function load(address: string): Promise<HTMLImageElement> {
  return new Promise((resolve, reject) => {
    const image = new Image();
    image.onload = () => resolve(image);
    image.onerror = () => reject(new Error("The picture could not be drawn."));
    image.src = address;
  });
}

/** Several poses in one picture, the earlier ones paler, on evening ground. */
export async function drawStrip(shot: Shot, width: number, height: number, count = 3): Promise<string | null> {
  const canvas = document.createElement("canvas");
  canvas.width = width;
  canvas.height = height;
  const context = canvas.getContext("2d");
  if (!context) return null;
  const sky = context.createLinearGradient(0, 0, 0, height);
  sky.addColorStop(0, "#8f8bb0");
  sky.addColorStop(0.62, "#eeb48c");
  sky.addColorStop(0.78, "#f7d3a0");
  context.fillStyle = sky;
  context.fillRect(0, 0, width, height);
  context.fillStyle = "#b98b5f";
  context.fillRect(0, height * 0.86, width, height * 0.14);
  context.fillStyle = "#a4784f";
  context.fillRect(0, height * 0.86, width, 3);
  const frames = tellingFrames(shot, count);
  await prepareFigure(shot);
  // A little over each other, the first and the last just within the picture.
  const each = frames.length === 1 ? width : (width / frames.length) * 1.25;
  const step = frames.length === 1 ? 0 : (width - each) / (frames.length - 1);
  for (const [i, frame] of frames.entries()) {
    const address = drawPicture(shot, frame, Math.round(each), Math.round(height * 0.86));
    if (!address) return null;
    const image = await load(address);
    context.globalAlpha = frames.length === 1 ? 1 : 0.5 + (0.5 * i) / (frames.length - 1);
    context.drawImage(image, step * i, height * 0.08, each, height * 0.86);
  }
  context.globalAlpha = 1;
  return canvas.toDataURL("image/png");
}
