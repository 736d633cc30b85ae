import { Alert, App as AntApp } from "antd";
import { useCallback } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { useParams } from "react-router";
import { Header } from "../app/Header.tsx";
import { StatusBar } from "../app/StatusBar.tsx";
import { ExportDialog } from "../export/ExportDialog.tsx";
import { CommandFinder } from "./CommandFinder.tsx";
import { useDocuments } from "./documents.ts";
import { HistoryDrawer } from "./HistoryDrawer.tsx";
import { OpenedShot } from "./OpenedShot.tsx";
import { Rack } from "./rack/Rack.tsx";
import { useClipboard } from "./useClipboard.ts";
import { useToldNotices } from "./useToldNotices.tsx";
import { useShortcuts } from "./useShortcuts.ts";
import { Transport } from "./view/Transport.tsx";
import { ViewPanel } from "./view/ViewPanel.tsx";
import { WorkCard } from "./work/WorkCard.tsx";

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
        <Group orientation="horizontal" id="bench-columns">
          <Panel id="left" defaultSize="404px" minSize="330px" maxSize="60%">
            <div className="column">
              <Group orientation="vertical" id="bench-left">
                <Panel id="view" defaultSize="47%" minSize="160px">
                  <div className="column">
                    <ViewPanel />
                  </div>
                </Panel>
                <Separator className="splitter across" />
                <Panel id="work" defaultSize="53%" minSize="200px">
                  <div className="column">
                    <Transport />
                    <WorkCard />
                  </div>
                </Panel>
              </Group>
            </div>
          </Panel>
          <Separator className="splitter" />
          <Panel id="rack" minSize="480px">
            <Rack />
          </Panel>
        </Group>
      </main>
      <StatusBar />
      <CommandFinder />
      <HistoryDrawer />
      <ExportDialog />
    </div>
  );
}
