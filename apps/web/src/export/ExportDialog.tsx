import { formats, sayError, type Shot } from "@kneader/core";
import { App as AntApp, Button, Modal, Radio } from "antd";
import { useEffect, useState } from "react";
import { useDialogs } from "../bench/dialogs.ts";
import { currentDocument } from "../bench/documents.ts";
import { sayBytes } from "../bench/units.ts";
import { download } from "./download.ts";

/** A file that is written and not saved yet, or why it cannot be. */
type Ready = { readonly extension: string; readonly bytes: Uint8Array; readonly notes: readonly string[] } | { readonly problem: string };

/** Choose a format, read what it can hold of the shot, and save the file. */
export function ExportDialog() {
  const open = useDialogs((state) => state.open === "export");
  const show = useDialogs((state) => state.show);
  const [id, setId] = useState("glb");
  const [ready, setReady] = useState<Ready | null>(null);
  const { message } = AntApp.useApp();
  const shot = currentDocument();
  // The file is written as soon as its kind is chosen, so that what it cannot hold is known before.
  useEffect(() => {
    if (!open || !shot) return;
    setReady(null);
    const timer = setTimeout(() => setReady(prepare(id, shot)), 30);
    return () => clearTimeout(timer);
  }, [open, id, shot]);
  const save = () => {
    if (!ready || !shot || "problem" in ready) return;
    const name = `${shot.name}${ready.extension}`;
    download(ready.bytes, name);
    message.success(`Exported "${name}", ${sayBytes(ready.bytes.length)}.`);
  };
  return (
    <Modal
      open={open}
      title="Export"
      width={480}
      onCancel={() => show(null)}
      footer={[
        <Button key="close" onClick={() => show(null)}>
          Close
        </Button>,
        <Button key="write" type="primary" disabled={!ready || "problem" in ready} onClick={save}>
          Export
        </Button>,
      ]}
    >
      <Radio.Group value={id} onChange={(event) => setId(event.target.value)} className="format-list">
        {formats.map((format) => (
          <Radio key={format.id} value={format.id}>
            <b>{format.title}</b> <span className="quiet mono">{format.extension}</span>
            <div className="quiet">{format.help}</div>
          </Radio>
        ))}
      </Radio.Group>
      <div className="export-notes" role="status">
        <Said ready={ready} />
      </div>
    </Modal>
  );
}

/** What the file will hold and leave out, before it is saved. */
function Said({ ready }: { ready: Ready | null }) {
  if (!ready) return <p className="quiet">Looking at what it can hold …</p>;
  if ("problem" in ready) return <p className="problem">{ready.problem}</p>;
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

function prepare(id: string, shot: Shot): Ready | null {
  const format = formats.find((one) => one.id === id);
  if (!format) return null;
  try {
    return { extension: format.extension, ...format.write(shot) };
  } catch (error) {
    return { problem: sayError(error) };
  }
}
