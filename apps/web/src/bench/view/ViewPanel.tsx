import { keyTimes } from "@kneader/core";
import { memo, useMemo } from "react";
import { usePreferences } from "../../app/preferences.ts";
import { usePlaying, useRestingFrame } from "../clock.ts";
import { useReadOnly, useShown } from "../documents.ts";
import { useSelection } from "../selection.ts";
import { usePointerHeld } from "../followPointer.ts";
import { keyPoses } from "../keyPoses.ts";
import { isLong, useSettled } from "../useSettled.ts";
import { useCharacterState } from "./figures/useLoadedAsset.ts";
import { ghostFrames } from "./ghostFrames.ts";
import { useHovered } from "./hovered.ts";
import { PullBar } from "./PullBar.tsx";
import { Stage } from "./Stage.tsx";
import type { ArcOf } from "./stageProps.ts";
import { ViewBar } from "./ViewBar.tsx";

/** More arcs than these could not be told apart. */
const MOST_ARCS = 24;
const NO_ARCS: readonly ArcOf[] = [];

/** A press on the figure picks; on nothing it leaves what is picked. */
function pick(control: string | null, add: boolean): void {
  const { controls, pickControls } = useSelection.getState();
  if (control === null) return;
  pickControls(add ? (controls.includes(control) ? controls.filter((id) => id !== control) : [...controls, control]) : [control]);
}

/** The figure, its cameras, ghosts and arcs. */
export function ViewPanel() {
  const shot = useShown();
  const readOnly = useReadOnly();
  const preferences = usePreferences();
  const { camera, ghosts, arc, room, theme, look, ghostInk, poseShare } = preferences;
  const picked = useSelection((state) => state.controls);
  const layer = useSelection((state) => state.layer);
  const playing = usePlaying();
  const frame = useRestingFrame();

  // The stage follows a drag by itself; what stands around the figure does so once it is let go.
  const settled = useSettled(shot, true);
  const busy = usePointerHeld((state) => state.held) && isLong(shot);

  const poses = useMemo(() => (ghosts ? keyPoses(settled, poseShare).map((pose) => pose.frame) : []), [settled, ghosts, poseShare]);
  const shownGhosts = !ghosts || playing || busy ? "" : ghostFrames(frame, settled.range, poses, preferences).join(" ");
  // The same list as long as it says the same.
  const pale = useMemo(() => (shownGhosts === "" ? [] : shownGhosts.split(" ").map(Number)), [shownGhosts]);

  const arcs = useMemo(() => {
    if (!arc || picked.length === 0) return NO_ARCS;
    return picked.slice(-MOST_ARCS).map((control): ArcOf => {
      const channels = settled.rig.controls.find((c) => c.id === control)?.channels.map((channel) => `${control}.${channel}`) ?? [];
      return { control, keys: keyTimes(settled, layer, channels) };
    });
  }, [arc, picked, settled, layer]);

  return (
    <section className="panel view" aria-label="View">
      <div className="view-stage">
        <Stage
          shot={settled}
          theme={theme}
          camera={camera}
          look={look}
          plain={room}
          ghosts={pale}
          ghostInk={ghostInk}
          picked={picked}
          arcs={arcs}
          onPick={pick}
          pulls={!readOnly}
        />
        <ViewBar hasSet={shot.set !== null} />
        <MarkNote />
        <CharacterNote />
        <PullBar />
      </div>
    </section>
  );
}

/** That the character is on its way, or why a plain body stands in for it. */
const CharacterNote = memo(function CharacterNote() {
  const { isLoading, problem } = useCharacterState();
  if (problem === null && !isLoading) return null;
  return (
    <span className={problem === null ? "character-note" : "character-note problem"} role="status">
      {problem ?? "Opening the character …"}
    </span>
  );
});

/** Which frame of which arc is under the pointer. */
const MarkNote = memo(function MarkNote() {
  const mark = useHovered((state) => state.mark);
  if (!mark) return null;
  return (
    <span className="mark-note" role="status" style={{ left: mark.x, top: mark.y }}>
      frame <b className="mono">{mark.frame}</b> {mark.name}
    </span>
  );
});
