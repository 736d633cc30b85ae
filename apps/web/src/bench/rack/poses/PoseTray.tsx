import { type KeyPose, operations, type Scope, type Shot, timedKind } from "@kneader/core";
import { Select } from "antd";
import { UserRound, UsersRound } from "lucide-react";
import { memo, useCallback, useMemo, useRef, useState } from "react";
import { usePreferences } from "../../../app/preferences.ts";
import { useRestingFrame } from "../../clock.ts";
import { useShownKeys } from "../../documents.ts";
import { holdsAfter, keyPoses, usePoseScope } from "../../keyPoses.ts";
import { useTimeAxis } from "../../timeAxis.ts";
import { isLong, useSettled } from "../../useSettled.ts";
import { useOverwrittenFrames } from "../../work/overwritten.ts";
import { useWork } from "../../work/workStore.ts";
import { useTimeGestures } from "../plot/useTimeGestures.ts";
import { TrayRow } from "../TrayRow.tsx";
import { GapChip } from "./GapChip.tsx";
import { filteredPoses, NAMED, partsOf } from "./filteredPoses.ts";
import { ghostPoses } from "./ghostPoses.ts";
import { layGaps, layPoses } from "./layPoses.ts";
import { type MenuPlace, PoseMenu } from "./PoseMenu.tsx";
import { PoseSpot } from "./PoseSpot.tsx";
import "./poses.css";

/** What counts as a key pose. */
const shares = [
  { value: 0.9, label: "nearly all keyed", title: "Nearly all controls that move have a key" },
  { value: 0.5, label: "half of it keyed", title: "Half of the controls that move have a key" },
  { value: 0.2, label: "a fifth keyed", title: "A fifth of the controls that move have a key" },
  { value: 0, label: "any key", title: "Some control has a key" },
];

/** Thumbnails of the key poses at their frames, and between them the gaps that set the timing. */
export function PoseTray() {
  const now = useShownKeys();
  const shown = useSettled(now, isLong(now));
  const share = usePreferences((state) => state.poseShare);
  const scope = usePoseScope();
  const filter = usePreferences((state) => state.poseFilter);
  const all = useMemo(() => keyPoses(shown, share, scope), [shown, share, scope]);
  const poses = useMemo(() => filteredPoses(shown, all, filter), [shown, all, filter]);
  const parts = useMemo(() => partsOf(shown.rig), [shown.rig]);
  return (
    <TrayRow name="Poses" className="pose-tray" gutter={<PoseGutter count={poses.length} of={all.length} parts={parts} />}>
      <PosePlot shot={shown} poses={poses} scope={scope} />
    </TrayRow>
  );
}

/** What begins a choice of which key poses are shown. */
const FILTER = "only ";

/** Apart from the plot, so that panning does not draw it anew. */
const PoseGutter = memo(function PoseGutter({ count, of, parts }: { count: number; of: number; parts: readonly string[] }) {
  const { poseShare, poseFilter, wholePoses, set } = usePreferences();
  return (
    <>
      <b>Poses</b>
      <span className="quiet">
        {count < of ? `${count} of ${of}` : count} key {of === 1 ? "pose" : "poses"}
      </span>
      <Select
        size="small"
        variant="borderless"
        className="pose-share"
        aria-label="Which poses are shown"
        title="What counts as a key pose, and which of them are shown"
        value={poseFilter === null ? String(poseShare) : `${FILTER}${poseFilter}`}
        options={[
          { label: "All key poses", options: shares.map(({ value, ...share }) => ({ ...share, value: String(value) })) },
          {
            label: "Of them only",
            options: [
              { value: FILTER + NAMED, label: "named ones", title: "Only poses with a name" },
              ...parts.map((part) => ({
                value: FILTER + part,
                label: `${part} changes`,
                title: `Only poses at which the ${part} changes`,
              })),
            ],
          },
        ]}
        popupMatchSelectWidth={220}
        virtual={false}
        listHeight={420}
        onChange={(value) =>
          set(value.startsWith(FILTER) ? { poseFilter: value.slice(FILTER.length) } : { poseFilter: null, poseShare: Number(value) })
        }
      />
      <div className="gap-line">
        <button
          type="button"
          className="quiet gap-label"
          title="Set all gaps at once, as a list (Shift G)"
          onClick={() => useWork.getState().open(operations.setTiming.id)}
        >
          Gaps, as a list
        </button>
        <button
          type="button"
          className="tool"
          aria-label="Poses of the picked controls only"
          aria-pressed={!wholePoses}
          title={
            wholePoses
              ? "Poses and gaps are those of the whole figure. Press for the picked controls only."
              : "Poses and gaps are those of the picked controls. Press for the whole figure."
          }
          onClick={() => set({ wholePoses: !wholePoses })}
        >
          {wholePoses ? <UsersRound size={14} /> : <UserRound size={14} />}
        </button>
      </div>
    </>
  );
});

/** The shot without passes that play other frames: a pose is shown as it was posed. */
function untimed(shot: Shot): Shot {
  const passes = shot.passes.filter((pass) => !timedKind(pass.kind));
  return passes.length === shot.passes.length ? shot : { ...shot, passes };
}

function PosePlot({ shot, poses, scope }: { shot: Shot; poses: readonly KeyPose[]; scope: Scope }) {
  const axis = useTimeAxis();
  const frame = useRestingFrame();
  const plot = useRef<HTMLDivElement>(null);
  const [menu, setMenu] = useState<MenuPlace | null>(null);
  const closeMenu = useCallback(() => setMenu(null), []);
  useTimeGestures(plot);
  const share = usePreferences((state) => state.poseShare);
  const holds = useMemo(() => holdsAfter(shot, share, scope), [shot, share, scope]);
  const posed = useMemo(() => untimed(shot), [shot]);
  const all = useMemo(() => poses.slice(1).map((pose, i) => ({ from: poses[i].frame, to: pose.frame })), [poses]);
  const marks = useMemo(() => new Map(shot.poseMarks.map((mark) => [mark.frame, mark])), [shot.poseMarks]);
  const givingWay = useOverwrittenFrames();
  const ghosts = ghostPoses(shot, poses, axis);
  const ghostly = new Set(ghosts.map((pose) => pose.frame));
  const places = layPoses(ghosts.length > 0 ? [...poses, ...ghosts].sort((a, b) => a.frame - b.frame) : poses, axis, frame);
  const gaps = layGaps(poses, axis);
  // Everything stands on a strip that is shifted as a whole, so that panning draws nothing anew; rounded, as
  // the span of the axis changes by a hair while it is panned.
  const scale = Math.round((axis.width / (axis.end - axis.start)) * 1e6) / 1e6;

  const openMenu = (event: React.MouseEvent) => {
    const target = (event.target as HTMLElement).closest<HTMLElement>("[data-pose], [data-gap]");
    const box = plot.current?.getBoundingClientRect();
    if (!target || !box) return;
    event.preventDefault();
    const own = target.getBoundingClientRect();
    // From the keyboard the event has no place of its own.
    const x = (event.clientX || own.left + own.width / 2) - box.left;
    const y = (event.clientY || own.bottom) - box.top;
    if (target.dataset.pose !== undefined) {
      const at = Number(target.dataset.pose);
      const next = poses[poses.findIndex((pose) => pose.frame === at) + 1]?.frame ?? null;
      setMenu({ x, y, on: { pose: at, next, mark: marks.get(at) } });
    } else {
      const [from, to] = (target.dataset.gap as string).split(" ").map(Number);
      setMenu({ x, y, on: { from, to, hold: holds.has(from) } });
    }
  };

  return (
    <div className="pose-plot" ref={plot} role="group" aria-label="Key poses and gaps" onContextMenu={openMenu}>
      <div className="pose-strip" style={{ transform: `translateX(${-axis.start * scale}px)` }}>
        {places.map(({ frame: at, picture }) => (
          <PoseSpot
            key={at}
            shot={posed}
            frame={at}
            x={at * scale}
            pictured={picture !== null}
            chosen={at === frame}
            ghost={ghostly.has(at)}
            givesWay={givingWay.has(at)}
            mark={marks.get(at)}
          />
        ))}
        {gaps.map(({ from, to }, i) => (
          <GapChip
            key={from}
            from={from}
            to={to}
            left={from * scale}
            width={(to - from) * scale}
            hold={holds.has(from)}
            second={i % 2 === 1}
            gaps={all}
          />
        ))}
      </div>
      {gaps.length === 0 && poses.length > 2 && (
        <p className="quiet gaps-hidden">{poses.length} poses stand too close to show their gaps. Zoom in with the wheel.</p>
      )}
      {poses.length === 0 && (
        <p className="quiet empty-line">
          No frame has keys on enough controls to be a pose. Choose "any key" at the left, or key a pose with K.
        </p>
      )}
      <PoseMenu place={menu} onClose={closeMenu} />
    </div>
  );
}
