import { type Format, sayError, type Shot } from "@kneader/core";
import { App as AntApp, Button, Modal, Radio } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useDialogs } from "../bench/dialogs.ts";
import { currentDocument } from "../bench/documents.ts";
import { useSelection } from "../bench/selection.ts";
import { sayBytes } from "../bench/units.ts";
import { download } from "./download.ts";
import { type ExportChoices, extensionOf, formatsFor, plainChoices, writeChosen } from "./exportChoices.ts";
import type { Waiting } from "../workers/writer.ts";
import { ExportOptions } from "./ExportOptions.tsx";
import { Writing } from "./Writing.tsx";

/** A file that is written and not saved yet, or why it cannot be. */
type Ready =
  | { readonly extension: string; readonly bytes: Uint8Array; readonly notes: readonly string[] }
  | { readonly problem: string; readonly isStopped?: true };

/** Choose a format, read what it can hold of the shot, and save the file. */
export function ExportDialog() {
  const open = useDialogs((state) => state.open === "export");
  const show = useDialogs((state) => state.show);
  const [chosen, setChosen] = useState<string | null>(null);
  const [choices, setChoices] = useState(plainChoices);
  const [made, setMade] = useState<{ readonly of: object; readonly ready: Ready } | null>(null);
  /** What was asked for before it was written: it is saved as soon as it is. */
  const [asked, setAsked] = useState<object | null>(null);
  const [share, setShare] = useState(0);
  const stop = useRef<() => void>(() => undefined);
  const content = useRef<HTMLDivElement>(null);
  const picked = useSelection((state) => state.controls);
  const { message } = AntApp.useApp();
  const shot = currentDocument();
  const offered = shot ? formatsFor(shot) : [];
  const format =
    offered.find(({ id }) => id === chosen) ?? offered.find(({ needsAsset }) => needsAsset) ?? offered.find(({ id }) => id === "glb");
  const wanted = useMemo(() => (open && shot && format ? { format, shot, choices, picked } : null), [open, format, shot, choices, picked]);
  // What was written of something else is not offered as this.
  const ready = made && made.of === wanted ? made.ready : null;
  // The file is written as soon as its kind is chosen, so that what it cannot hold is known before.
  useEffect(() => {
    if (!wanted) return;
    const waiting = new AbortController();
    const begin = () => {
      setShare(0);
      const file = prepare(wanted, { signal: waiting.signal, progress: setShare });
      void file.then((written) => waiting.signal.aborted || setMade({ of: wanted, ready: written }));
    };
    const timer = setTimeout(begin, 30);
    stop.current = () => {
      waiting.abort();
      setMade({ of: wanted, ready: { problem: "Stopped: nothing was written.", isStopped: true } });
    };
    return () => {
      clearTimeout(timer);
      waiting.abort();
      setMade(null);
    };
  }, [wanted]);
  const save = () => {
    if (!ready) return setAsked(wanted);
    setAsked(null);
    if (!shot || "problem" in ready) return;
    const name = `${shot.name}${ready.extension}`;
    download(ready.bytes, name);
    message.success(`Exported "${name}", ${sayBytes(ready.bytes.length)}.`);
  };
  const latest = useRef(save);
  latest.current = save;
  const isAsked = asked !== null && asked === wanted;
  useEffect(() => {
    if (isAsked && ready) latest.current();
  }, [isAsked, ready]);
  useEffect(() => {
    if (!open) return;
    // Enter takes what is chosen, from wherever but a button or a field that takes what was typed.
    const enter = (event: KeyboardEvent) => {
      if (event.key !== "Enter" || (event.target as Element).matches?.("button, input:not([type=radio], [type=checkbox])")) return;
      event.preventDefault();
      latest.current();
    };
    window.addEventListener("keydown", enter);
    return () => window.removeEventListener("keydown", enter);
  }, [open]);
  return (
    <Modal
      open={open}
      title="Export"
      width={720}
      // What is chosen has the keyboard: arrows choose.
      afterOpenChange={(isOpen) => isOpen && content.current?.querySelector<HTMLInputElement>("input:checked")?.focus()}
      onCancel={() => show(null)}
      footer={[
        <Button key="close" onClick={() => show(null)}>
          Close
        </Button>,
        <Button key="write" type="primary" onClick={save} disabled={ready !== null && "problem" in ready}>
          {isAsked ? "Exports when ready" : "Export"}
        </Button>,
      ]}
    >
      <div ref={content} className="export-columns">
        <Radio.Group value={format?.id} onChange={(event) => setChosen(event.target.value)} className="format-list">
          {offered.map((one) => (
            <Radio key={one.id} value={one.id}>
              <b>{one.title}</b> <span className="quiet mono">{shot && extensionOf(one, shot)}</span>
              <div className="quiet">{one.help}</div>
            </Radio>
          ))}
        </Radio.Group>
        <div>
          {format && shot && <ExportOptions format={format} shot={shot} picked={picked} choices={choices} onChange={setChoices} />}
          <div className="export-notes" role="status">
            <Said ready={ready} share={share} stop={() => stop.current()} again={() => setChoices({ ...choices })} />
          </div>
        </div>
      </div>
    </Modal>
  );
}

/** What the file will hold and leave out, before it is saved. */
function Said({ ready, share, stop, again }: { ready: Ready | null; share: number; stop(): void; again(): void }) {
  if (!ready) return <Writing share={share} stop={stop} />;
  if ("problem" in ready)
    return (
      <>
        <p className={ready.isStopped ? "quiet" : "problem"}>{ready.problem}</p>
        <Button size="small" onClick={again}>
          Try again
        </Button>
      </>
    );
  return (
    <>
      <b>{ready.notes.length > 0 ? "What the file will hold" : "The file will hold all of the shot"}</b>
      {ready.notes.map((note) => (
        <p key={note}>{note}</p>
      ))}
      <p className="quiet">{sayBytes(ready.bytes.length)}</p>
    </>
  );
}

/** What is to be written, as chosen. */
interface Wanted {
  readonly format: Format;
  readonly shot: Shot;
  readonly choices: ExportChoices;
  readonly picked: readonly string[];
}

async function prepare({ format, shot, choices, picked }: Wanted, waiting: Waiting): Promise<Ready> {
  try {
    return { extension: extensionOf(format, shot), ...(await writeChosen(format, shot, choices, picked, waiting)) };
  } catch (error) {
    return { problem: sayError(error) };
  }
}
