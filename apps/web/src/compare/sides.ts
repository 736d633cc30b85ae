import { activePasses, currentShot, type History, inVersion, type Shot } from "@kneader/core";

/** What can stand on a side of the comparison. */
export interface Side {
  readonly id: string;
  readonly name: string;
  readonly shot: Shot;
  /** The version it is, when it is one. */
  readonly version: string | null;
}

/** The shot as it is, base motion alone, the step before, the shot as opened, and every version. */
export function sidesOf(history: History): Side[] {
  const now = currentShot(history);
  const { steps, present } = history;
  const sides: Side[] = [
    { id: "now", name: "As it is now", shot: now, version: null },
    ...now.versions.map(({ id, name }): Side => ({ id, name, shot: inVersion(now, id), version: id })),
    { id: "base", name: "Base motion alone", shot: { ...now, passes: [] }, version: null },
  ];
  if (present > 0) {
    sides.push({ id: "before", name: `Before "${steps[present].name}"`, shot: steps[present - 1].shot, version: null });
    if (present > 1) sides.push({ id: "opened", name: "As opened", shot: steps[0].shot, version: null });
  }
  return sides;
}

/** What is shown first: two versions; else the passes against base motion, or the last step against the one before. */
export function firstSides(sides: readonly Side[]): [string, string] {
  const versions = sides.filter(({ version }) => version !== null);
  if (versions.length > 1) return [versions[0].id, versions[1].id];
  if (versions.length === 1) return [versions[0].id, "now"];
  const now = sides.find(({ id }) => id === "now");
  const before = now && activePasses(now.shot).length > 0 ? undefined : sides.find(({ id }) => id === "before");
  return [before?.id ?? "base", "now"];
}
