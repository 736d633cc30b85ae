import { controlById, keyTimes } from "@kneader/core";
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
        <FrameNote pulls={!readOnly} />
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

/** Which frame a drag from here would key: of the mark under the pointer, or of the part, which is the playhead's. */
const FrameNote = memo(function FrameNote({ pulls }: { pulls: boolean }) {
  const mark = useHovered((state) => state.mark);
  const control = useHovered((state) => state.control);
  const at = useHovered((state) => state.at);
  const frame = useRestingFrame();
  const playing = usePlaying();
  const rig = useShown().rig;
  const part = !mark && at && pulls && !playing && control !== null ? controlById(rig, control) : undefined;
  const said = mark ?? (part && at ? { ...at, frame, name: part.name } : null);
  if (!said) return null;
  return (
    <span className={mark ? "mark-note" : "mark-note part"} role="status" style={{ left: said.x, top: said.y }}>
      frame <b className="mono">{Math.round(said.frame * 100) / 100}</b> {said.name}
    </span>
  );
});
