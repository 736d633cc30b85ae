import { ExportDialog } from "../export/ExportDialog.tsx";
import { GuideDialog } from "../help/GuideDialog.tsx";
import { CommandFinder } from "./CommandFinder.tsx";
import { HistoryDrawer } from "./HistoryDrawer.tsx";

/** What opens over the bench when it is asked for. */
export function BenchDialogs() {
  return (
    <>
      <CommandFinder />
      <HistoryDrawer />
      <ExportDialog />
      <GuideDialog />
    </>
  );
}
