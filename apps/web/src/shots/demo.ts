import type { Shot } from "@kneader/core";
import { demoShots } from "@kneader/demo";

const made = new Map<string, Shot>();

/** A demo shot by id, as it comes, or null. Made once in a session. */
export async function makeDemoShot(id: string): Promise<Shot | null> {
  const kept = made.get(id);
  if (kept) return kept;
  const demo = demoShots.find((shot) => shot.id === id);
  if (!demo) return null;
  const shot = await demo.make();
  made.set(id, shot);
  return shot;
}
