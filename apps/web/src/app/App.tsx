import { QueryClientProvider } from "@tanstack/react-query";
import { Alert, App as AntApp, Button, ConfigProvider } from "antd";
import { lazy, Suspense, useEffect, useState } from "react";
import { BrowserRouter, Route, Routes } from "react-router";
import { makeDemoShot } from "../shots/demo.ts";
import { ShelfPage } from "../shots/ShelfPage.tsx";
import { startAutosave } from "../storage/autosave.ts";
import { probeStorage, useStorageState } from "../storage/probe.ts";
import { ErrorBoundary } from "./ErrorBoundary.tsx";
import { reload, useOutdated, watchForUpdates } from "./outdated.ts";
import { FileDrop } from "./FileDrop.tsx";
import { loadPreferences, usePreferences } from "./preferences.ts";
import { queryClient } from "./queryClient.ts";
import { antTheme } from "./theme.ts";

const loadBench = () => import("../bench/BenchPage.tsx");
const BenchPage = lazy(() => loadBench().then((module) => ({ default: module.BenchPage })));
const ComparePage = lazy(() => import("../compare/ComparePage.tsx").then((module) => ({ default: module.ComparePage })));
const RigPage = lazy(() => import("../rigs/RigPage.tsx").then((module) => ({ default: module.RigPage })));
const PantryPage = lazy(() => import("../pantry/PantryPage.tsx").then((module) => ({ default: module.PantryPage })));
const AnimationsDialog = lazy(() => import("../shots/AnimationsDialog.tsx").then((module) => ({ default: module.AnimationsDialog })));
const SettingsPage = lazy(() => import("./SettingsPage.tsx").then((module) => ({ default: module.SettingsPage })));

/** What the bench needs is fetched at once where its address was opened, and from the shelf as soon as there is time. */
function loadAhead(): void {
  const load = () => void loadBench().catch(() => undefined);
  const [, page, id] = window.location.pathname.split("/");
  if (page === "shots") {
    load();
    if (id) void makeDemoShot(decodeURIComponent(id)).catch(() => undefined);
  } else window.addEventListener("load", () => setTimeout(load, 1200), { once: true });
}

loadAhead();
watchForUpdates();
const started = probeStorage().then(loadPreferences).then(startAutosave);

/** A tab that was left open while the application was updated offers to go on with the new one. */
function OutdatedNote() {
  const outdated = useOutdated((state) => state.outdated);
  if (!outdated) return null;
  return (
    <Alert
      banner
      type="info"
      title="Kneader was updated since this page was opened; a part of it can no longer be loaded."
      action={
        <Button size="small" type="primary" onClick={() => void reload()}>
          Reload
        </Button>
      }
    />
  );
}

/** That nothing can be kept is said on every page, as long as it is so. */
function StorageNote() {
  const problem = useStorageState((state) => state.problem);
  if (problem === null) return null;
  return (
    <Alert
      banner
      type="error"
      title={`Nothing can be kept in this browser (${problem}). What you do is lost when this tab is closed: export what you want to keep.`}
    />
  );
}

export function App() {
  const theme = usePreferences((state) => state.theme);
  const [ready, setReady] = useState(false);
  useEffect(() => {
    void started.then(() => setReady(true));
  }, []);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  if (!ready) return null;
  return (
    <ConfigProvider theme={antTheme(theme)} tooltip={{ unique: false }}>
      <QueryClientProvider client={queryClient}>
        <AntApp className="app" message={{ maxCount: 3 }}>
          <StorageNote />
          <OutdatedNote />
          <BrowserRouter>
            <FileDrop />
            <Suspense fallback={null}>
              <AnimationsDialog />
            </Suspense>
            <ErrorBoundary>
              <Suspense fallback={<div className="empty page-empty">One moment …</div>}>
                <Routes>
                  <Route path="/" element={<ShelfPage />} />
                  <Route path="/shots/:id" element={<BenchPage />} />
                  <Route path="/shots/:id/compare" element={<ComparePage />} />
                  <Route path="/rigs/:id" element={<RigPage />} />
                  <Route path="/pantry" element={<PantryPage />} />
                  <Route path="/settings" element={<SettingsPage />} />
                  <Route path="*" element={<ShelfPage />} />
                </Routes>
              </Suspense>
            </ErrorBoundary>
          </BrowserRouter>
        </AntApp>
      </QueryClientProvider>
    </ConfigProvider>
  );
}
