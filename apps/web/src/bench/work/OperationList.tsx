import { catalogue, fieldPass, operationById, suiting } from "@kneader/core";
import { Button, Input } from "antd";
import { Search } from "lucide-react";
import { useRef, useState } from "react";
import { usePreferences } from "../../app/preferences.ts";
import { missingForOperation } from "../commands/offeredCommands.ts";
import { findByWords } from "../commands/findByWords.ts";
import { commandShortcut } from "../commandKeys.ts";
import { useReadOnly, useShot } from "../documents.ts";
import { tell } from "../notices.ts";
import { useSelection } from "../selection.ts";
import { situation, useWork } from "./workStore.ts";

/** So many are put on top: what fits, then what was used lately. */
const MOST_FITTING = 4;
const MOST_AT_HAND = 5;

interface Section {
  readonly name: string;
  readonly ids: readonly string[];
}

/** What fits what is picked and what was used lately, then everything in the order of the work; or what fits the words. */
function sectionsFor(text: string, lately: readonly string[]): Section[] {
  if (text.trim()) return [{ name: "Found", ids: findByWords(catalogue, text).map(({ id }) => id) }];
  const at = situation();
  const groups = [...new Set(catalogue.map(({ group }) => group))];
  const fitting = at ? suiting(catalogue, at).map(({ id }) => id) : [];
  const known = lately.filter((id) => catalogue.some((one) => one.id === id));
  const atHand = [...new Set([...fitting.slice(0, MOST_FITTING), ...known])].slice(0, MOST_AT_HAND);
  return [
    { name: "At hand", ids: atHand },
    ...groups.map((name) => ({ name, ids: catalogue.filter(({ group }) => group === name).map(({ id }) => id) })),
  ].filter(({ ids }) => ids.length > 0);
}

/** The operations to choose from, with a field to find one by words and a line that says what the one at hand does. */
export function OperationList() {
  const lately = usePreferences((state) => state.lately);
  const readOnly = useReadOnly();
  // What fits follows what the shot holds and what is picked.
  const { layer } = useSelection();
  const isField = useShot().passes.some(({ id, kind }) => id === layer && kind === fieldPass.id);
  const [text, setText] = useState("");
  const [at, setAt] = useState<string | null>(null);
  const list = useRef<HTMLDListElement>(null);
  const sections = sectionsFor(text, lately);
  const open = (id: string) => {
    const why = missingForOperation(id);
    if (why) tell(`${operationById(id).title}: ${why.charAt(0).toLowerCase()}${why.slice(1)}`);
    else useWork.getState().open(id);
  };
  const found = sections[0]?.ids ?? [];
  const names = () => [...(list.current?.querySelectorAll<HTMLButtonElement>("button") ?? [])];
  /** Up and down, left and right go through the names; Tab leaves them. */
  const walk = (event: React.KeyboardEvent) => {
    const all = names();
    const now = all.indexOf(document.activeElement as HTMLButtonElement);
    const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
    if (by === undefined || now < 0) return;
    event.preventDefault();
    event.stopPropagation();
    if (now + by < 0) list.current?.parentElement?.querySelector<HTMLInputElement>("input")?.focus();
    else all[Math.min(all.length - 1, now + by)].focus();
  };
  const shown = at ?? (text.trim() ? (found[0] ?? null) : null);
  return (
    <div className="work-choice">
      <div className="work-choice-head">
        <h2>Rework</h2>
        {isField && (
          <Button size="small" type="text" onClick={() => useWork.setState({ listedFor: null })}>
            To the pose field
          </Button>
        )}
        <Input
          size="small"
          allowClear
          prefix={<Search size={13} />}
          suffix={<kbd>{commandShortcut("find-operation")}</kbd>}
          placeholder="Find an operation"
          aria-label="Find an operation"
          value={text}
          disabled={readOnly}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter" && found[0] && text.trim()) open(found[0]);
            else if (event.key === "ArrowDown") names()[0]?.focus();
            else if (event.key === "Escape") {
              setText("");
              event.currentTarget.blur();
            } else return;
            event.preventDefault();
          }}
        />
      </div>
      <dl ref={list} onKeyDown={walk}>
        {sections.map(({ name, ids }, s) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>
              {ids.map((id, i) => {
                const missing = missingForOperation(id);
                return (
                  <button
                    key={id}
                    type="button"
                    className={missing ? "lacking" : ""}
                    disabled={readOnly}
                    aria-disabled={missing !== null}
                    aria-describedby="operation-help"
                    tabIndex={s === 0 && i === 0 ? 0 : -1}
                    onPointerEnter={() => setAt(id)}
                    onPointerLeave={() => setAt(null)}
                    onFocus={() => setAt(id)}
                    onBlur={() => setAt(null)}
                    onClick={() => open(id)}
                  >
                    {operationById(id).title}
                  </button>
                );
              })}
            </dd>
          </div>
        ))}
      </dl>
      {found.length === 0 && text.trim() && (
        <p className="quiet empty-line">No operation has that name. {commandShortcut("find-command")} looks everywhere.</p>
      )}
      <p className="operation-help" id="operation-help">
        {shown ? <Help id={shown} /> : <span className="quiet">Point at a name to read what it does.</span>}
      </p>
    </div>
  );
}

/** The shortcut, one sentence, and what is missing. */
function Help({ id }: { id: string }) {
  const keys = commandShortcut(id);
  const missing = missingForOperation(id);
  return (
    <>
      {keys && <kbd>{keys}</kbd>}
      {missing && <b>{missing}</b>} {operationById(id).help}
    </>
  );
}
