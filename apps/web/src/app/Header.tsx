import { currentShot, operations } from "@kneader/core";
import { Button, Segmented, Tooltip } from "antd";
import { History, Moon, Redo2, Search, Sun, Undo2, Upload } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { commandShortcut } from "../bench/commandKeys.ts";
import { useDialogs } from "../bench/dialogs.ts";
import { usePoseTarget } from "../bench/field/poseDrop.ts";
import { useWork } from "../bench/work/workStore.ts";
import { useDocuments } from "../bench/documents.ts";
import { sayAgo } from "../bench/units.ts";
import { useSaveState } from "../storage/autosave.ts";
import { usePreferences } from "./preferences.ts";

/** Where each page of the switch is, for the shot at hand. */
const addresses: Readonly<Record<string, (shot: string | null) => string>> = {
  bench: (shot) => `/shots/${shot}`,
  compare: (shot) => `/shots/${shot}/compare`,
  rig: (shot) => `/rigs/${shot}`,
  pantry: () => "/pantry",
};

/** Name, where you are, the command finder, undo and redo, saving, export. */
export function Header({ page }: { page: "shelf" | "bench" | "compare" | "rig" | "pantry" | "many" | "settings" }) {
  const navigate = useNavigate();
  const current = useDocuments((state) => state.current);
  const history = useDocuments((state) => (state.current ? state.open[state.current]?.history : undefined));
  const { undo, redo } = useDocuments.getState();
  const { theme, set } = usePreferences();
  const show = useDialogs((state) => state.show);
  const bench = page === "bench";
  /** Pages of no shot in particular. */
  const besides = page === "shelf" || page === "settings" || page === "many";
  const edits = bench || page === "rig";
  // A pose dragged out of the pose tray onto the pages is meant for the pantry.
  const pantry = usePoseTarget(!bench, (frame) => useWork.getState().open(operations.saveAction.id, { what: "pose", frame }));
  const previous = history?.steps[history.present]?.name;
  const next = history?.steps[history.present + 1]?.name;
  return (
    <header className="header">
      <Link to="/" className="brand" aria-label="Kneader, to the shelf of shots">
        <img src="/icon.svg" alt="" width={26} height={26} />
        <b>Kneader</b>
      </Link>
      <nav className="crumbs" aria-label="Where you are">
        <Link to="/">Shots</Link>
        {history && !besides && (
          <>
            <span aria-hidden>/</span>
            <b title={currentShot(history).name}>{currentShot(history).name}</b>
          </>
        )}
      </nav>
      <span ref={pantry} className="page-switch">
        <Segmented
          aria-label="Page"
          value={besides ? "" : page}
          options={[
            { value: "bench", label: "Bench", disabled: !current },
            { value: "compare", label: "Compare", disabled: !current },
            { value: "rig", label: "Rig", disabled: !current },
            { value: "pantry", label: "Pantry" },
          ]}
          onChange={(value) => navigate(addresses[value](current))}
        />
      </span>
      {bench ? (
        <button type="button" className="finder-button" onClick={() => show("finder")}>
          <Search size={14} />
          <span>Find a command</span>
          <kbd>{commandShortcut("find-command")}</kbd>
        </button>
      ) : (
        <span className="spring" />
      )}
      <span className="spring" />
      {edits && history && (
        <>
          <Tooltip title={history.present > 0 ? `Undo "${previous}" (Ctrl Z)` : "Nothing to undo"}>
            <Button type="text" aria-label="Undo" disabled={history.present === 0} icon={<Undo2 size={16} />} onClick={undo} />
          </Tooltip>
          <Tooltip title={next ? `Redo "${next}" (Ctrl Shift Z)` : "Nothing to redo"}>
            <Button type="text" aria-label="Redo" disabled={!next} icon={<Redo2 size={16} />} onClick={redo} />
          </Tooltip>
          {bench && (
            <Tooltip title="History">
              <Button type="text" aria-label="History" icon={<History size={16} />} onClick={() => show("history")} />
            </Tooltip>
          )}
          <SaveNote />
        </>
      )}
      <Tooltip title={theme === "dusk" ? "Light theme" : "Dusk theme, for dark rooms"}>
        <Button
          type="text"
          aria-label={theme === "dusk" ? "Light theme" : "Dusk theme"}
          icon={theme === "dusk" ? <Sun size={16} /> : <Moon size={16} />}
          onClick={() => set({ theme: theme === "dusk" ? "light" : "dusk" })}
        />
      </Tooltip>
      {bench && (
        <Button type="primary" icon={<Upload size={15} />} onClick={() => show("export")} title="Export (E)">
          Export
        </Button>
      )}
    </header>
  );
}

function SaveNote() {
  const { state, at, problem } = useSaveState();
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 5000);
    return () => clearInterval(timer);
  }, []);
  if (state === "failed")
    return (
      <span className="save-note failed" role="alert" title={problem}>
        Not saved: {problem}
      </span>
    );
  if (state === "waiting")
    return (
      <span className="save-note" role="status">
        Saving …
      </span>
    );
  return (
    <span className="save-note" role="status">
      <i />
      {at ? `Saved here ${sayAgo(at, Math.max(now, at))}` : "As saved"}
    </span>
  );
}
