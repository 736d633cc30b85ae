import type { Shot } from "@kneader/core";
import { demoShots } from "@kneader/demo";

const made = new Map<string, Promise<Shot>>();

/** A demo shot by id, as it comes, or null. Made once in a session. */
export async function makeDemoShot(id: string): Promise<Shot | null> {
  const demo = demoShots.find((shot) => shot.id === id);
  if (!demo) return null;
  const shot = made.get(id) ?? Promise.resolve(demo.make());
  made.set(id, shot);
  return shot;
}
