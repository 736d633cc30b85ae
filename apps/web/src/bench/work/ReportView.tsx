import {
  keysBeyond,
  listed,
  type Outcome,
  type Shot,
  willBe,
  channelTitle,
  channelUnit,
  controlById,
  operationById,
  splitChannelKey,
} from "@kneader/core";
import { Tooltip } from "antd";
import { Fragment, useMemo } from "react";
import { clock } from "../clock.ts";
import { sayBeyond } from "../perform.ts";
import { sayAngle, sayLength } from "../units.ts";
import { useSelection } from "../selection.ts";
import { useWork } from "./workStore.ts";
import { OffList } from "./OffList.tsx";

/** Keys before → after, worst drift (click it to go there), and what the user should know. */
export function ReportView({ outcome, shot }: { outcome: Outcome; shot: Shot }) {
  const { report } = outcome;
  const { drift, worstCurve } = report;
  const beyond = useMemo(() => keysBeyond(shot, outcome.shot), [shot, outcome]);
  const share = report.keysBefore > 0 ? Math.round((report.keysAfter / report.keysBefore - 1) * 100) : 0;
  const name = (control: string) => controlById(shot.rig, control)?.name ?? control;
  const places: { label: string; value: string; place: string; frame: number; help: string }[] = [];
  if (worstCurve) {
    const { channel } = splitChannelKey(worstCurve.channel);
    const unit = channelUnit(channel);
    const amount = worstCurve.amount.toFixed(unit === "factor" ? 4 : 2);
    const value =
      unit === "length" ? sayLength(worstCurve.amount, shot) : `${amount}${unit === "degrees" ? "°" : unit === "percent" ? " %" : ""}`;
    places.push({
      label: "curve",
      value,
      place: channelTitle(shot.rig, worstCurve.channel),
      frame: worstCurve.frame,
      help: "the furthest any one curve is from what it was, at a whole frame",
    });
  }
  if (drift) {
    places.push({
      label: "turn",
      value: sayAngle(drift.turn.amount),
      place: name(drift.turn.control),
      frame: drift.turn.frame,
      help: "the largest angle between a control before and after",
    });
    places.push({
      label: "place",
      value: sayLength(drift.place.amount, shot),
      place: name(drift.place.control),
      frame: drift.place.frame,
      help: "the furthest any control is in space from where it was",
    });
  }
  return (
    <div className="report" role="status" onKeyDown={walkLinks}>
      <p className="note">{willBe(report.summary)}</p>
      <div className="report-row">
        <span className="quiet">Keys</span>
        <button
          type="button"
          className="link mono strong"
          data-testid="keys-report"
          title="Click to copy; arrows go on to the others"
          onClick={() => copyNumber(`${report.keysBefore} → ${report.keysAfter}`)}
        >
          {count(report.keysBefore)} → {count(report.keysAfter)}
          {share !== 0 && (
            <em className={share < 0 ? "fewer" : "more"}>
              {share > 0 ? "+" : "−"}
              {Math.abs(share)} %
            </em>
          )}
        </button>
      </div>
      {places.length > 0 && (
        <div className="report-row">
          <span className="quiet" title="The furthest the result is from what it is made from">
            Worst
          </span>
          <span className="worst">
            {places.map(({ label, value, place, frame, help }) => (
              <Tooltip
                key={label}
                title={`${place} at frame ${frame}: ${help}${label === report.bounds ? "; the tolerance bounds this one, the others follow from it" : ""}. Click to go there and copy the number`}
              >
                <button
                  type="button"
                  className="link"
                  tabIndex={-1}
                  aria-label={`Worst ${label} ${value} at frame ${frame}, ${place}`}
                  onClick={() => {
                    clock.set(frame);
                    copyNumber(value);
                  }}
                >
                  {label} <b className="mono">{value}</b>
                  {label === report.bounds && <span className="quiet"> kept within</span>}
                </button>
              </Tooltip>
            ))}
          </span>
        </div>
      )}
      {report.off && report.off.length > 0 && <OffList off={report.off} shot={shot} />}
      {beyond && <p className="warning">{sayBeyond(beyond, outcome.shot)} Once applied, a wider range is offered.</p>}
      {report.notes.map((note) => (
        <p className="quiet note" key={note} title={note}>
          {note}
        </p>
      ))}
      {report.doFirst && (
        <p className="quiet note">
          Better first:{" "}
          {report.doFirst.map((id, n) => (
            <Fragment key={id}>
              {n > 0 && " or "}
              <button type="button" className="link" tabIndex={-1} onClick={() => useWork.getState().open(id)}>
                {operationById(id).title}
              </button>
            </Fragment>
          ))}
        </p>
      )}
      {report.takeAlong && (
        <p className="quiet note">
          <button type="button" className="link" tabIndex={-1} onClick={() => takeAlong(report.takeAlong ?? [])}>
            Take {listed(report.takeAlong.map(name))} along
          </button>
        </p>
      )}
      {report.warnings.map((warning) => (
        <p className="warning" key={warning}>
          {warning}
        </p>
      ))}
    </div>
  );
}

/** The numbers of a report are one stop for Tab; arrows go from one to the next. */
function walkLinks(event: React.KeyboardEvent<HTMLElement>): void {
  const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
  const all = [...event.currentTarget.querySelectorAll<HTMLElement>("button.link")];
  const at = all.indexOf(document.activeElement as HTMLElement);
  if (by === undefined || at < 0) return;
  all[Math.min(all.length - 1, Math.max(0, at + by))].focus();
  event.preventDefault();
  event.stopPropagation();
}

/** What is picked, and these besides. */
function takeAlong(ids: readonly string[]): void {
  const { controls, pickControls } = useSelection.getState();
  pickControls([...controls, ...ids.filter((id) => !controls.includes(id))]);
}

function copyNumber(text: string): void {
  void navigator.clipboard?.writeText(text).catch(() => undefined);
}

function count(value: number): string {
  return value.toLocaleString("en").replaceAll(",", " ");
}
