import { formats, sayError } from "@kneader/core";
import { App as AntApp, Button, Modal, Radio } from "antd";
import { useState } from "react";
import { useDialogs } from "../bench/dialogs.ts";
import { currentDocument } from "../bench/documents.ts";
import { sayBytes } from "../bench/units.ts";
import { download } from "./download.ts";

/** Choose a format, write the file, and say what it could not hold. */
export function ExportDialog() {
  const open = useDialogs((state) => state.open === "export");
  const show = useDialogs((state) => state.show);
  const [id, setId] = useState("glb");
  const [notes, setNotes] = useState<readonly string[]>([]);
  const [busy, setBusy] = useState(false);
  const { message } = AntApp.useApp();
  const write = async () => {
    const shot = currentDocument();
    const format = formats.find((f) => f.id === id);
    if (!shot || !format) return;
    setBusy(true);
    // Let the button show that it works before the page is busy writing.
    await new Promise((resolve) => setTimeout(resolve, 20));
    try {
      const { bytes, notes: said } = format.write(shot);
      download(bytes, `${shot.name}${format.extension}`);
      setNotes(said);
      message.success(`Exported "${shot.name}${format.extension}", ${sayBytes(bytes.length)}.`);
    } catch (error) {
      message.error(sayError(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <Modal
      open={open}
      title="Export"
      width={480}
      onCancel={() => show(null)}
      afterClose={() => setNotes([])}
      footer={[
        <Button key="close" onClick={() => show(null)}>
          Close
        </Button>,
        <Button key="write" type="primary" disabled={busy} onClick={() => void write()}>
          {busy ? "Exporting …" : "Export"}
        </Button>,
      ]}
    >
      <Radio.Group
        value={id}
        onChange={(event) => {
          setId(event.target.value);
          setNotes([]);
        }}
        className="format-list"
      >
        {formats.map((format) => (
          <Radio key={format.id} value={format.id}>
            <b>{format.title}</b> <span className="quiet mono">{format.extension}</span>
            <div className="quiet">{format.help}</div>
          </Radio>
        ))}
      </Radio.Group>
      {notes.length > 0 && (
        <div className="export-notes" role="status">
          <b>What the file holds</b>
          {notes.map((note) => (
            <p key={note}>{note}</p>
          ))}
        </div>
      )}
    </Modal>
  );
}
