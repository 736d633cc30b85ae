import { type Constraint, type Contact, type PlantSettings, withConstraint } from "@kneader/core";
import { isReached } from "../../keyOwner.ts";
import { useReadOnly } from "../../documents.ts";
import { useTimeAxis, xOf } from "../../timeAxis.ts";
import { dragAlong } from "./dragAlong.ts";
import { changeContacts } from "./tieEdits.ts";

type Grip = "start" | "end" | "whole" | "easeIn" | "easeOut";

/** The contacts of a planted end: each a block with its frames of coming and going beside it; ends, eases and the whole are dragged. */
export function ContactBand({ tie }: { tie: Constraint }) {
  const axis = useTimeAxis();
  const readOnly = useReadOnly();
  const { contacts } = tie.settings as PlantSettings;
  const changed = (i: number, grip: Grip, by: number): Contact[] =>
    contacts.map((one, n) => (n === i ? grabbed(one, grip, by, contacts, i) : one));
  const drag = (i: number, grip: Grip) => (event: React.PointerEvent) => {
    if (event.button !== 0 || readOnly) return;
    event.stopPropagation();
    dragAlong(
      event,
      (shot, by) => withConstraint(shot, tie.id, (one) => ({ ...one, settings: { ...one.settings, contacts: changed(i, grip, by) } })),
      (by) => changeContacts(tie, changed(i, grip, by)),
    );
  };
  const keys = (i: number) => (event: React.KeyboardEvent) => {
    // Clicked, it leaves the bench its keys.
    if (!isReached(event)) return;
    const by = event.key === "ArrowLeft" ? -1 : event.key === "ArrowRight" ? 1 : 0;
    const out = event.key === "Delete" || event.key === "Backspace";
    if (by === 0 && !out) return;
    event.preventDefault();
    event.stopPropagation();
    changeContacts(tie, out ? contacts.filter((_, n) => n !== i) : changed(i, event.shiftKey ? "end" : "whole", by));
  };
  return (
    <>
      {contacts.map((one, i) => {
        const [left, right] = [xOf(axis, one.start), xOf(axis, one.end)];
        const [from, to] = [xOf(axis, one.start - one.easeIn), xOf(axis, one.end + one.easeOut)];
        return (
          <div key={one.start} className="contact" style={{ left: from, width: Math.max(6, to - from) }}>
            <span
              className="contact-ease"
              style={{ left: 0, width: left - from }}
              onPointerDown={drag(i, "easeIn")}
              title={`Comes to its place over ${one.easeIn} frames: drag`}
            />
            <button
              type="button"
              className="contact-body"
              style={{ left: left - from, width: Math.max(6, right - left) }}
              aria-label={`Contact from frame ${one.start} to ${one.end}`}
              title={`Stands from frame ${one.start} to ${one.end}. Drag it or its ends; arrows move it, with Shift its end; Delete takes it out`}
              onPointerDown={drag(i, "whole")}
              onKeyDown={keys(i)}
            />
            <span className="contact-end" style={{ left: left - from - 3 }} onPointerDown={drag(i, "start")} />
            <span className="contact-end" style={{ left: right - from - 3 }} onPointerDown={drag(i, "end")} />
            <span
              className="contact-ease out"
              style={{ left: right - from, width: to - right }}
              onPointerDown={drag(i, "easeOut")}
              title={`Leaves over ${one.easeOut} frames: drag`}
            />
          </div>
        );
      })}
    </>
  );
}

/** A contact dragged by one of its grips, kept apart from its neighbours. */
function grabbed(one: Contact, grip: Grip, by: number, all: readonly Contact[], i: number): Contact {
  const least = (all[i - 1]?.end ?? Number.NEGATIVE_INFINITY) + 1;
  const most = (all[i + 1]?.start ?? Number.POSITIVE_INFINITY) - 1;
  if (grip === "easeIn") return { ...one, easeIn: Math.max(0, one.easeIn - by) };
  if (grip === "easeOut") return { ...one, easeOut: Math.max(0, one.easeOut + by) };
  if (grip === "start") return { ...one, start: Math.min(one.end, Math.max(least, one.start + by)) };
  if (grip === "end") return { ...one, end: Math.max(one.start, Math.min(most, one.end + by)) };
  const shift = Math.min(most - one.end, Math.max(least - one.start, by));
  return { ...one, start: one.start + shift, end: one.end + shift };
}
