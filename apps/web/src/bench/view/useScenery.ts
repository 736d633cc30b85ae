import { useEffect, useMemo } from "react";
import { disposeOf } from "./disposeOf.ts";
import type { Framing } from "./framing.ts";
import { buildLanding, type LandingModel } from "./landing.ts";
import { buildRoom } from "./room.ts";

/** The set around the figure, or a plain room; let go of when another one is shown. */
export function useScenery(
  set: string | null,
  framing: Framing,
  dusk: boolean,
): { landing: LandingModel | null; room: ReturnType<typeof buildRoom> | null } {
  const landing = useMemo(() => (set === "landing" ? buildLanding() : null), [set]);
  const room = useMemo(() => (set === "landing" ? null : buildRoom(framing, dusk)), [set, framing, dusk]);
  useEffect(() => () => void (room && disposeOf(room)), [room]);
  useEffect(
    () => () => {
      if (!landing) return;
      disposeOf(landing.still);
      disposeOf(landing.ferry);
    },
    [landing],
  );
  return { landing, room };
}
