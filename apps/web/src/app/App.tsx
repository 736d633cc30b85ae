import { countedWord } from "@kneader/core";
import { QueryClientProvider } from "@tanstack/react-query";
import { Alert, App as AntApp, Button, ConfigProvider } from "antd";
import { lazy, Suspense, useEffect, useState } from "react";
import { BrowserRouter, matchPath, Route, Routes } from "react-router";
import { makeDemoShot } from "../shots/demo.ts";
import { ShelfPage } from "../shots/ShelfPage.tsx";
import { startAutosave, useEmptied } from "../storage/autosave.ts";
import { probeStorage, useStorageState } from "../storage/probe.ts";
import { ErrorBoundary } from "./ErrorBoundary.tsx";
import { lookWhy, reload, useOutdated, watchForUpdates } from "./outdated.ts";
import { FileDrop } from "./FileDrop.tsx";
import { Page, ShownPage } from "./page.tsx";
import { loadPreferences, usePreferences } from "./preferences.ts";
import { queryClient } from "./queryClient.ts";
import { antTheme } from "./theme.ts";

const shelfPage = new Page(async () => ShelfPage);
const benchPage = new Page(async () => (await import("../bench/BenchPage.tsx")).BenchPage);
const comparePage = new Page(async () => (await import("../compare/ComparePage.tsx")).ComparePage);
const rigPage = new Page(async () => (await import("../rigs/RigPage.tsx")).RigPage);
const pantryPage = new Page(async () => (await import("../pantry/PantryPage.tsx")).PantryPage);
const manyPage = new Page(async () => (await import("../many/ManyPage.tsx")).ManyPage);
const settingsPage = new Page(async () => (await import("./SettingsPage.tsx")).SettingsPage);
const AnimationsDialog = lazy(async () => ({ default: (await import("../shots/AnimationsDialog.tsx")).AnimationsDialog }));

/** The pages by their addresses; what is nowhere else is the shelf. */
const pages = {
  "/": shelfPage,
  "/shots/:id": benchPage,
  "/shots/:id/compare": comparePage,
  "/rigs/:id": rigPage,
  "/pantry": pantryPage,
  "/recipes": manyPage,
  "/settings": settingsPage,
  "*": shelfPage,
};

/** The page that was opened is fetched while the storage is looked at, and the bench from elsewhere as soon as there is time. */
async function loadAhead(): Promise<void> {
  const path = window.location.pathname;
  const opened = Object.entries(pages).find(([pattern]) => matchPath(pattern, path))?.[1] ?? shelfPage;
  if (opened !== benchPage) window.addEventListener("load", () => setTimeout(() => void benchPage.ahead(), 1200), { once: true });
  const id = matchPath("/shots/:id", path)?.params.id;
  if (id) void makeDemoShot(id).catch(() => undefined);
  await opened.ahead();
}

watchForUpdates();
const started = Promise.all([loadAhead(), probeStorage().then(loadPreferences).then(startAutosave)]);

/** A tab that was left open while the application was updated offers to go on with the new one; without a server it says so. */
function OutdatedNote() {
  const why = useOutdated((state) => state.why);
  if (why === null) return null;
  if (why === "silent")
    return (
      <Alert
        banner
        type="warning"
        title="Kneader's server does not answer, and a part of the page could not be loaded. What is open goes on, and is saved in this browser."
        action={
          <Button
            size="small"
            type="primary"
            onClick={async () => {
              if (await lookWhy()) await reload();
            }}
          >
            Try again
          </Button>
        }
      />
    );
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

/** That all which was kept was thrown away elsewhere, and what of it is here still. */
function EmptiedNote() {
  const { times, kept } = useEmptied();
  if (times === 0) return null;
  const again =
    kept === 0
      ? "No shot was open here to be kept anew."
      : `${countedWord(kept, "shot")} open here ${kept === 1 ? "is" : "are"} kept anew.`;
  return (
    <Alert
      key={times}
      banner
      closable
      type="warning"
      title={`What Kneader kept in this browser was thrown away, by another tab or by the browser${times > 1 ? ` (${times} times by now)` : ""}. ${again}`}
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
          <EmptiedNote />
          <BrowserRouter>
            <FileDrop />
            <Suspense fallback={null}>
              <AnimationsDialog />
            </Suspense>
            <ErrorBoundary>
              <Suspense fallback={<div className="empty page-empty">One moment …</div>}>
                <Routes>
                  {Object.entries(pages).map(([path, page]) => (
                    <Route key={path} path={path} element={<ShownPage key={path} page={page} />} />
                  ))}
                </Routes>
              </Suspense>
            </ErrorBoundary>
          </BrowserRouter>
        </AntApp>
      </QueryClientProvider>
    </ConfigProvider>
  );
}
