import { likelyFlips, type Shot } from "@kneader/core";
import { Button, Input, Switch, Tooltip } from "antd";
import { Search } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { clock } from "../bench/clock.ts";
import { useDocuments } from "../bench/documents.ts";
import { useSelection } from "../bench/selection.ts";
import { sayAngle, sayLength } from "../bench/units.ts";
import { FlipsCell, pair, PartnerCell, RuleCell } from "./RuleCells.tsx";
import type { RigRow } from "./rigRows.ts";
import { useRowsInSight } from "./useRowsInSight.ts";

const ROW = 34;

interface RigTableProps {
  shot: Shot;
  rows: readonly RigRow[];
  /** The frames that were measured; null until they are. */
  frames: readonly number[] | null;
  problems: number;
  picked: string | null;
  disabled: boolean;
  onPick(id: string): void;
}

/** Every control with its part, its partner, how it is mirrored and how far its image is off. */
export function RigTable({ shot, rows, frames, problems, picked, disabled, onPick }: RigTableProps) {
  const [words, setWords] = useState("");
  const [onlyProblems, setOnlyProblems] = useState(false);
  const holder = useRef<HTMLDivElement>(null);
  const wanted = words.trim().toLowerCase();
  const shown = useMemo(
    () =>
      rows.filter(
        ({ control, problem }) =>
          (!onlyProblems || problem !== null) &&
          (!wanted || `${control.name} ${control.part} ${control.role}`.toLowerCase().includes(wanted)),
      ),
    [rows, onlyProblems, wanted],
  );
  const { first, count } = useRowsInSight(holder, shown.length, ROW);
  return (
    <section className="panel rig-table" aria-label="Controls">
      <header>
        <Input
          size="small"
          allowClear
          prefix={<Search size={13} />}
          placeholder="Find a control or a part"
          aria-label="Find a control or a part"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        <label className="rig-only">
          <Switch size="small" aria-label="Only problems" checked={onlyProblems} onChange={setOnlyProblems} />
          <span>Only problems</span>
        </label>
        <span className="quiet" role="status">
          {frames === null
            ? "Measuring …"
            : problems === 0
              ? "Everything lands on its reflection."
              : `${problems} ${problems === 1 ? "control needs" : "controls need"} a look.`}
        </span>
      </header>
      <div className="rig-head" aria-hidden>
        <span>Control</span>
        <span>Part</span>
        <span>Partner</span>
        <span>When mirrored</span>
        <span title="How far its image is off in the rest pose">At rest</span>
        <span title="The furthest it is off over the shot; press to go there">Over the shot</span>
      </div>
      <div className="rig-rows" ref={holder}>
        <div style={{ height: shown.length * ROW, position: "relative" }}>
          {shown.slice(first, first + count).map((row, i) => (
            <div
              key={row.control.id}
              role="group"
              aria-label={row.control.name}
              className={`rig-row ${row.problem ? "problem" : ""} ${picked === row.control.id ? "picked" : ""}`}
              style={{ top: (first + i) * ROW, height: ROW }}
              onPointerDown={() => onPick(row.control.id)}
            >
              <span className="rig-name" style={{ paddingLeft: 8 + Math.min(8, row.depth) * 10 }} title={row.control.name}>
                <i className={`side-mark ${row.side}`} />
                <span className="rig-cut">{row.control.name}</span>
              </span>
              <span className="quiet rig-cut" title={row.control.part || row.control.role}>
                {row.control.part || row.control.role}
              </span>
              <PartnerCell row={row} shot={shot} disabled={disabled} />
              <span className="rig-how">
                <RuleCell row={row} shot={shot} disabled={disabled} />
                <FlipsCell row={row} disabled={disabled} />
              </span>
              <ErrorAtRest row={row} shot={shot} />
              <ErrorOver row={row} shot={shot} frames={frames} disabled={disabled} />
            </div>
          ))}
        </div>
        {shown.length === 0 && (
          <p className="quiet empty-line">{onlyProblems ? "No control has a problem." : "No control has that in its name."}</p>
        )}
      </div>
    </section>
  );
}

function ErrorAtRest({ row, shot }: { row: RigRow; shot: Shot }) {
  const { proof } = row;
  if (!proof) return <span className="quiet">–</span>;
  const text = sayOff(proof.restDistance, proof.restTurn, shot);
  return (
    <span className="mono rig-off rig-cut" title={text}>
      {text}
    </span>
  );
}

/** So little is nothing: an angle is known to no more. */
const NOTHING = 1e-4;

function sayOff(distance: number, turn: number, shot: Shot): string {
  const parts = [distance > 1e-6 ? sayLength(distance, shot) : "", turn > NOTHING ? sayAngle(turn) : ""].filter(Boolean);
  return parts.length > 0 ? parts.join(" ") : "0";
}

/** How far it is off at its worst; goes there on the bench. Where it is off, copying channels by signs is offered. */
function ErrorOver({ row, shot, frames, disabled }: { row: RigRow; shot: Shot; frames: readonly number[] | null; disabled: boolean }) {
  const navigate = useNavigate();
  const { proof, control, problem } = row;
  if (!proof)
    return (
      <span className="quiet rig-cut" title={row.problem ?? undefined}>
        {row.problem ?? "–"}
      </span>
    );
  const frame = frames && proof.worst >= 0 ? frames[proof.worst] : null;
  const text = sayOff(proof.distance, proof.turn, shot);
  const go = () => {
    const { current } = useDocuments.getState();
    void navigate(`/shots/${current}`);
    // The bench takes up the shot anew; then it goes there.
    requestAnimationFrame(() =>
      setTimeout(() => {
        if (frame !== null) clock.set(frame);
        useSelection.getState().pickControls([control.id]);
      }, 0),
    );
  };
  const signs = () => pair({ [control.id]: { mirror: { flips: likelyFlips(shot.rig, control.id) } } });
  return (
    <span className="rig-over">
      {frame === null || text === "0" ? (
        <span className="mono rig-off rig-cut">{text}</span>
      ) : (
        <button
          type="button"
          className="link mono rig-off rig-cut"
          title={`${text}, worst at frame ${frame}. Press to go there on the bench`}
          onClick={go}
        >
          {text}
        </button>
      )}
      {problem && typeof control.mirror !== "object" && (
        <Tooltip title="Copies its channels from the partner with signs of your choice, instead of by the rest pose">
          <Button size="small" type="text" disabled={disabled} aria-label={`Copy the channels of ${control.name} by signs`} onClick={signs}>
            by signs
          </Button>
        </Tooltip>
      )}
    </span>
  );
}
