import { Alert, App as AntApp } from "antd";
import { useCallback } from "react";
import { useParams } from "react-router";
import { Header } from "../app/Header.tsx";
import { StatusBar } from "../app/StatusBar.tsx";
import { BenchDialogs } from "./BenchDialogs.tsx";
import { BenchPanels } from "./BenchPanels.tsx";
import { useDocuments } from "./documents.ts";
import { OpenedShot } from "./OpenedShot.tsx";
import { useAfterFirst } from "./useAfterFirst.ts";
import { useClipboard } from "./useClipboard.ts";
import { useToldNotices } from "./useToldNotices.tsx";
import { useShortcuts } from "./useShortcuts.ts";

/** The main screen for one shot. */
export function BenchPage() {
  const { id = "" } = useParams();
  return (
    <OpenedShot id={id}>
      <Bench />
    </OpenedShot>
  );
}

function Bench() {
  const { message } = AntApp.useApp();
  const say = useCallback((text: string) => void message.success(text), [message]);
  useShortcuts(say);
  useClipboard();
  useToldNotices();
  const after = useAfterFirst();
  const readOnly = useDocuments((state) => (state.current ? state.open[state.current]?.readOnly : false));
  return (
    <div className="page bench">
      <Header page="bench" />
      {readOnly && (
        <Alert
          banner
          type="warning"
          title="This shot is open in another tab. Here it can be looked at and played, not changed; it opens for work as soon as the other tab is closed."
        />
      )}
      <main className="bench-main">
        <BenchPanels />
      </main>
      <StatusBar />
      {after && <BenchDialogs />}
    </div>
  );
}
