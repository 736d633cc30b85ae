import { freshId, operations, type Shot, WHOLE_FIGURE } from "@kneader/core";
import { App as AntApp, Button, Segmented, Select, Tooltip } from "antd";
import { Download, Film } from "lucide-react";
import { lazy, Suspense, useMemo, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { Header } from "../app/Header.tsx";
import { usePreferences } from "../app/preferences.ts";
import { queryClient } from "../app/queryClient.ts";
import { clock } from "../bench/clock.ts";
import { useDocuments, useReadOnly } from "../bench/documents.ts";
import { performOrTell } from "../bench/perform.ts";
import { OpenedShot } from "../bench/OpenedShot.tsx";
import { useCommandKeys } from "../bench/useCommandKeys.ts";
import { cameras } from "../bench/view/cameraNames.ts";
import { looks } from "../bench/view/looks.ts";
import { Transport } from "../bench/view/Transport.tsx";
import { download } from "../export/download.ts";
import { keepShot } from "../shots/takeFiles.ts";
import { runInWorker } from "../workers/operations.ts";
import { contactSheet, sheetFrames } from "./contactSheet.ts";
import { DifferenceChart } from "./DifferenceChart.tsx";
import { differences } from "./differences.ts";
import { firstSides, type Side, sidesOf } from "./sides.ts";
import "./compare.css";

const Stage = lazy(() => import("../bench/view/Stage.tsx").then((module) => ({ default: module.Stage })));
const NONE: readonly never[] = [];

/** The shortcuts that make sense here: to play, to step, and to take a step back. */
const keys = ["play-pause", "step-forward", "step-back", "first-frame", "last-frame", "undo", "redo"];

/** Two states of a shot in step, with the same camera; what differs, over time; one to keep or to bake out. */
export function ComparePage() {
  const { id = "" } = useParams();
  return (
    <OpenedShot id={id}>
      <Compare id={id} />
    </OpenedShot>
  );
}

function Compare({ id }: { id: string }) {
  useCommandKeys(keys);
  const history = useDocuments((state) => state.open[id].history);
  const sides = useMemo(() => sidesOf(history), [history]);
  const [search, setSearch] = useSearchParams();
  const [first, second] = firstSides(sides);
  const find = (wanted: string | null, otherwise: string) =>
    sides.find((side) => side.id === wanted) ?? (sides.find((side) => side.id === otherwise) as Side);
  const a = find(search.get("a"), first);
  const b = find(search.get("b"), second);
  const layout = search.get("over") === "1" ? "over" : "beside";
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(search);
    next.set(name, value);
    setSearch(next, { replace: true });
  };
  const { theme, camera, room, look, ghostInk } = usePreferences();
  const stage = (shot: Shot, over: Shot | null) => (
    <Suspense fallback={<div className="empty">Setting the stage …</div>}>
      <Stage
        shot={shot}
        over={over}
        theme={theme}
        camera={camera}
        look={look}
        ghostInk={ghostInk}
        plain={room}
        ghosts={NONE}
        picked={NONE}
        arcs={NONE}
        onPick={() => undefined}
      />
    </Suspense>
  );
  return (
    <div className="page compare">
      <Header page="compare" />
      <main className="compare-main">
        <div className="compare-bar">
          <Segmented
            size="small"
            aria-label="How they are shown"
            value={layout}
            options={[
              { value: "beside", label: "Side by side" },
              { value: "over", label: "One over the other" },
            ]}
            onChange={(value) => set("over", value === "over" ? "1" : "0")}
          />
          <Segmented
            size="small"
            aria-label="Camera"
            value={camera}
            options={[...cameras]}
            onChange={(value) => usePreferences.getState().set({ camera: value })}
          />
          <Segmented
            size="small"
            aria-label="Figure"
            value={look}
            options={looks.map(({ value, label, help }) => ({ value, label, title: help }))}
            onChange={(value) => usePreferences.getState().set({ look: value })}
          />
          <SheetButton rows={[a, b]} />
        </div>
        <div className={`compare-views ${layout}`}>
          <section className="panel compare-view" aria-label={`Left: ${a.name}`}>
            <SideHead side={a} sides={sides} onChoose={(value) => set("a", value)} label="Left" />
            <div className="compare-stage">{stage(a.shot, layout === "over" ? b.shot : null)}</div>
          </section>
          <section className="panel compare-view" aria-label={`Right: ${b.name}`}>
            <SideHead side={b} sides={sides} onChoose={(value) => set("b", value)} label={layout === "over" ? "Pale" : "Right"} />
            {layout === "beside" && <div className="compare-stage">{stage(b.shot, null)}</div>}
          </section>
        </div>
        <Transport />
        <Differences a={a.shot} b={b.shot} />
      </main>
    </div>
  );
}

/** How far the two are apart, as a chart and control by control; a click goes to where that is most. */
function Differences({ a, b }: { a: Shot; b: Shot }) {
  const theme = usePreferences((state) => state.theme);
  const found = useMemo(() => differences(a, b), [a, b]);
  const [factor, unit] = a.unitMetres ? [a.unitMetres * 1000, "mm"] : [1, "units"];
  return (
    <section className="panel compare-differences" aria-label="Differences">
      {found.controls.length === 0 ? (
        <p className="quiet empty-line">Both sides move alike: no control differs at any frame.</p>
      ) : (
        <>
          <div className="compare-chart">
            <DifferenceChart frames={found.frames} controls={found.controls} factor={factor} unit={unit} theme={theme} />
          </div>
          <ol className="compare-list" aria-label="Controls that differ">
            {found.controls.slice(0, 40).map(({ control, name, worst, worstFrame }) => (
              <li key={control}>
                <button type="button" onClick={() => clock.set(worstFrame)} title={`Go to frame ${worstFrame}`}>
                  <span>{name}</span>
                  <span className="mono">
                    {(worst * factor).toFixed(1)} {unit} at {worstFrame}
                  </span>
                </button>
              </li>
            ))}
          </ol>
        </>
      )}
    </section>
  );
}

interface SideHeadProps {
  side: Side;
  sides: readonly Side[];
  label: string;
  onChoose(id: string): void;
}

/** Which state a side shows, and what can be done with it. */
function SideHead({ side, sides, label, onChoose }: SideHeadProps) {
  const navigate = useNavigate();
  const readOnly = useReadOnly();
  const { message } = AntApp.useApp();
  const [baking, setBaking] = useState(false);
  const keep = () => {
    const { version } = side;
    const kept = side.shot.versions.find(({ id }) => id === version);
    if (kept) performOrTell(operations.changeVersion, { use: kept.name });
    else if (side.id !== "now") performOrTell(operations.takeBack, { shot: side.shot, name: side.name });
    navigate(`/shots/${side.shot.id}`);
  };
  const bakeOut = async () => {
    setBaking(true);
    try {
      const name = `${side.shot.name}, ${side.name}`;
      const baked = await bakedShot(side.shot, name);
      await keepShot(baked);
      await queryClient.invalidateQueries({ queryKey: ["shelf"] });
      // Messages are drawn outside the pages, so they have no links of theirs.
      message.success(
        <span>
          "{name}" is on the shelf.{" "}
          <Button type="link" size="small" onClick={() => navigate(`/shots/${baked.id}`)}>
            Open it
          </Button>
        </span>,
        6,
      );
    } catch (error) {
      message.error((error as Error).message);
    } finally {
      setBaking(false);
    }
  };
  return (
    <header className="compare-head">
      <Select
        size="small"
        aria-label={`${label} side`}
        value={side.id}
        options={sides.map(({ id, name }) => ({ value: id, label: name }))}
        popupMatchSelectWidth={false}
        onChange={onChoose}
      />
      <Tooltip title="The shot becomes this; one step to undo">
        <Button size="small" disabled={readOnly} onClick={keep}>
          Keep this one
        </Button>
      </Tooltip>
      <Tooltip title="A shot of its own on the shelf, its passes baked into base motion">
        <Button size="small" icon={<Film size={13} />} loading={baking} onClick={() => void bakeOut()}>
          Bake out
        </Button>
      </Tooltip>
    </header>
  );
}

/** A copy of a shot under a name, with every pass that plays baked into base motion. */
async function bakedShot(shot: Shot, name: string): Promise<Shot> {
  const copy: Shot = { ...shot, id: freshId("shot"), name, versions: [] };
  if (!copy.passes.some((pass) => pass.on || pass.solo)) return { ...copy, passes: [] };
  const outcome = await runInWorker(operations.bakePasses.id, copy, WHOLE_FIGURE, { keys: "fewest" }).done;
  return { ...outcome.shot, passes: [] };
}

function SheetButton({ rows }: { rows: readonly Side[] }) {
  const { message } = AntApp.useApp();
  const save = async () => {
    try {
      const { range, name } = rows[0].shot;
      download(await contactSheet(rows, sheetFrames(range, 8)), `${name} contact sheet.png`);
    } catch (error) {
      message.error((error as Error).message);
    }
  };
  return (
    <Tooltip title="Both sides at eight frames as one picture, for whoever has to choose">
      <Button size="small" icon={<Download size={13} />} onClick={() => void save()}>
        Contact sheet
      </Button>
    </Tooltip>
  );
}
