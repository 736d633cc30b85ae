import type { Action } from "@kneader/core";
import { useLayoutEffect, useRef, useState } from "react";
import { createPortal } from "react-dom";
import { ActionPicture } from "../../pantry/ActionPicture.tsx";
import { useTimeAxis, xOf } from "../timeAxis.ts";
import { type Dragged, useLayDrag } from "./layDrag.ts";

const words = {
  replace: "As keys, in place of what is there",
  insert: "As keys; later ones make room",
  pass: "As a pass that plays it",
} as const;

/** What an action that is dragged over the trays would take: its span with its poses, pale, and in words what it would do. */
export function LaySpan() {
  const dragged = useLayDrag((state) => state.dragged);
  return dragged ? (
    <>
      {dragged.over && <Span {...dragged} over={dragged.over} />}
      {createPortal(<Tip {...dragged} />, document.body)}
    </>
  ) : null;
}

function Span({ action, over }: Dragged & { over: NonNullable<Dragged["over"]> }) {
  const axis = useTimeAxis();
  const at = useRef<HTMLDivElement>(null);
  const [left, setLeft] = useState(0);
  useLayoutEffect(() => {
    const rack = at.current?.parentElement;
    const plot = rack?.querySelector(".ruler-plot");
    if (rack && plot) setLeft(plot.getBoundingClientRect().left - rack.getBoundingClientRect().left);
  }, []);
  const [start, end] = [Math.max(0, xOf(axis, over.at)), Math.min(axis.width, xOf(axis, over.end))];
  return (
    <div ref={at} className={`lay-span ${over.as}`} style={{ left: left + start, width: Math.max(2, end - start) }} aria-hidden>
      <ActionPicture action={action} />
      <b className="mono">{over.at}</b>
      {over.end > over.at && <b className="mono end">{Math.round(over.end * 100) / 100}</b>}
    </div>
  );
}

const travels = ({ clip }: Action) => clip.length > 0 && Object.keys(clip.curves).some((key) => /\.move[XZ]$/.test(key));

function Tip({ action, x, y, over, said, warns }: Dragged) {
  return (
    <div className="lay-tip" role="status" style={{ left: Math.min(x + 14, window.innerWidth - 330), top: y > 220 ? y - 118 : y + 18 }}>
      <b>{action.card.name}</b>
      {over ? (
        <>
          <span>
            {over.beside ? "As a band beside this one" : words[over.as]}, frames {over.at}–{Math.round(over.end * 100) / 100}
          </span>
          {travels(action) && (
            <span>{over.carry ? "Carries on from where the figure stands (Alt: where it was saved)" : "Plays where it was saved"}</span>
          )}
          {over.end > over.at && (
            <span>{over.eases ? "Comes in and goes out softly (Shift: at once)" : "Comes in and goes out at once"}</span>
          )}
          {said && <span className={warns ? "lay-warns" : "quiet"}>{said}</span>}
        </>
      ) : (
        <span>Drop it on the ruler, the poses, the curves or the passes</span>
      )}
    </div>
  );
}
