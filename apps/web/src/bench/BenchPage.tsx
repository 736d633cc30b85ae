import { BASE, currentShot, KneaderError, sayError, type Shot } from "@kneader/core";
import { Alert, App as AntApp, Button, Result } from "antd";
import { useCallback, useEffect, useState } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { Link, useParams } from "react-router";
import { Header } from "../app/Header.tsx";
import { StatusBar } from "../app/StatusBar.tsx";
import { ExportDialog } from "../export/ExportDialog.tsx";
import { knownSaved } from "../storage/autosave.ts";
import { loadShot, setAside } from "../storage/shotRecords.ts";
import { shotStore } from "../storage/stores.ts";
import { takeShot } from "../storage/tabLock.ts";
import { makeDemoShot } from "../shots/demo.ts";
import { forgetUnused } from "../workers/operations.ts";
import { clock } from "./clock.ts";
import { CommandFinder } from "./CommandFinder.tsx";
import { useDocuments, useShownPart } from "./documents.ts";
import { HistoryDrawer } from "./HistoryDrawer.tsx";
import { NO_FILTER } from "./rack/channels/channelFilter.ts";
import { useChannelView } from "./rack/channels/channelView.ts";
import { Rack } from "./rack/Rack.tsx";
import { useSelection } from "./selection.ts";
import { fitTime } from "./timeAxis.ts";
import { useClipboard } from "./useClipboard.ts";
import { useShortcuts } from "./useShortcuts.ts";
import { Transport } from "./view/Transport.tsx";
import { ViewPanel } from "./view/ViewPanel.tsx";
import { WorkCard } from "./work/WorkCard.tsx";
import { useWork } from "./work/workStore.ts";

async function fetchShot(id: string): Promise<{ shot: Shot; saved: boolean } | null> {
  const kept = await loadShot(id);
  if (kept) return { shot: kept, saved: true };
  const made = await makeDemoShot(id);
  return made ? { shot: made, saved: true } : null;
}

/** The main screen for one shot. */
export function BenchPage() {
  const { id = "" } = useParams();
  const [problem, setProblem] = useState<string | null>(null);
  const ready = useDocuments((state) => state.current === id && state.open[id] !== undefined);

  useEffect(() => {
    let wanted = true;
    const open = async () => {
      const documents = useDocuments.getState();
      if (!documents.open[id]) {
        const free = await takeShot(id, () => void reopen(id));
        try {
          const found = await fetchShot(id);
          if (!wanted) return;
          if (!found) return setProblem("There is no such shot in this browser. It may have been deleted, or kept in another browser.");
          if (found.saved) knownSaved(found.shot);
          documents.add(found.shot, !free);
        } catch (error) {
          if (!wanted) return;
          if (error instanceof KneaderError && error.code === "newer-version") return setProblem(sayError(error));
          await setAside(id, await shotStore.getItem(id), sayError(error));
          return setProblem(`${sayError(error)} Its record was set aside and can be downloaded from the shelf.`);
        }
      }
      const entry = useDocuments.getState().open[id];
      const shot = currentShot(entry.history);
      useSelection.getState().clear();
      useSelection.getState().setLayer("base");
      useChannelView.getState().showAll();
      useChannelView.getState().set(NO_FILTER);
      useWork.getState().close();
      clock.stop();
      useDocuments.getState().show(id);
      clock.set(shot.range.start);
      fitTime(shot.range.start, shot.range.end);
    };
    setProblem(null);
    void open();
    return () => {
      wanted = false;
      clock.stop();
      useDocuments.getState().setPreview(null);
      const shots = Object.values(useDocuments.getState().open).flatMap((entry) => entry.history.steps.map((step) => step.shot));
      void forgetUnused(shots);
    };
  }, [id]);

  if (problem)
    return (
      <Result
        status="warning"
        title="This shot cannot be opened"
        subTitle={problem}
        extra={
          <Link to="/">
            <Button type="primary">To the shelf</Button>
          </Link>
        }
      />
    );
  if (!ready) return <div className="empty page-empty">Opening the shot …</div>;
  return <Bench />;
}

/** The tab that had the shot let it go: read what it saved last and take over. */
async function reopen(id: string): Promise<void> {
  const found = await fetchShot(id).catch(() => null);
  if (!found) return;
  knownSaved(found.shot);
  useDocuments.getState().add(found.shot, false);
}

function Bench() {
  const { message } = AntApp.useApp();
  const say = useCallback((text: string) => void message.success(text), [message]);
  useShortcuts(say);
  useClipboard();
  const refused = useDocuments((state) => state.refused);
  useEffect(() => {
    if (refused === null) return;
    message.error(refused);
    useDocuments.setState({ refused: null });
  }, [refused, message]);
  const layer = useSelection((state) => state.layer);
  const isThere = useShownPart((shot) => layer === BASE || shot.passes.some(({ id }) => id === layer));
  // A pass that undo took away is chosen no longer.
  useEffect(() => {
    if (!isThere) useSelection.getState().setLayer(BASE);
  }, [isThere]);
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
