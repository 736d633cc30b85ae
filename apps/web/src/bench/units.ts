import type { Shot } from "@kneader/core";

/** A length in millimetres where the shot knows its unit, in units otherwise. */
export function sayLength(value: number, shot: Shot): string {
  if (shot.unitMetres === null) return `${value < 1e-3 && value > 0 ? "under 0.001" : value.toFixed(3)} units`;
  const millimetres = value * shot.unitMetres * 1000;
  return millimetres > 0 && millimetres < 0.01 ? "under 0.01 mm" : `${millimetres.toFixed(2)} mm`;
}

export function sayAngle(degrees: number): string {
  return degrees > 0 && degrees < 0.01 ? "under 0.01°" : `${degrees.toFixed(2)}°`;
}

/** "just now", "4 s ago", "3 min ago". */
export function sayAgo(at: number, now: number): string {
  const seconds = Math.max(0, Math.round((now - at) / 1000));
  if (seconds < 2) return "just now";
  if (seconds < 60) return `${seconds} s ago`;
  if (seconds < 3600) return `${Math.round(seconds / 60)} min ago`;
  if (seconds < 86400) return `${Math.round(seconds / 3600)} h ago`;
  return new Date(at).toLocaleDateString();
}

export function sayBytes(bytes: number): string {
  if (bytes < 1024) return `${bytes} B`;
  if (bytes < 1048576) return `${Math.round(bytes / 1024)} kB`;
  if (bytes < 1073741824) return `${(bytes / 1048576).toFixed(1)} MB`;
  return `${Number((bytes / 1073741824).toFixed(1))} GB`;
}
