import { sayError } from "@kneader/core";
import { App as AntApp, Button, Progress } from "antd";
import { useCallback } from "react";
import { useNavigate } from "react-router";
import { useDocuments } from "../bench/documents.ts";
import { saveNow } from "../storage/autosave.ts";
import { shotDoor } from "../storage/kept.ts";
import { saySaveError } from "../storage/shotRecords.ts";
import { keepShot, type Taken, takeFiles } from "../shots/takeFiles.ts";
import { queryClient } from "./queryClient.ts";

const KEY = "taking-files";
const pause = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

/** Above this opening a file takes long enough to say so (bytes). */
const LARGE = 4 * 1024 * 1024;

class Stopped extends Error {}

/** A list in a notice. */
function List({ lines }: { lines: readonly string[] }) {
  return (
    <ul className="note-list">
      {lines.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </ul>
  );
}

/**
 * Takes files into the application, wherever they were dropped or chosen: one shot is opened, several are put on the
 * shelf, actions go into the pantry; what failed is listed with the reason.
 */
export function useTakeFiles(wanted: "any" | "actions" = "any"): (files: readonly File[]) => Promise<Taken> {
  const { notification, message } = AntApp.useApp();
  const navigate = useNavigate();
  return useCallback(
    async (files) => {
      let stopped = false;
      const progress = async (share: number) => {
        if (stopped) throw new Stopped();
        if (files.length < 2 && files[0].size < LARGE) return;
        notification.open({
          key: KEY,
          title: files.length < 2 ? `Opening ${files[0].name}` : `Opening ${files.length} files`,
          description: <Progress percent={Math.round(100 * share)} showInfo={false} aria-label="Opening files" />,
          duration: false,
          placement: "bottomRight",
          role: "status",
          actions: (
            <Button size="small" onClick={() => (stopped = true)}>
              Stop
            </Button>
          ),
        });
        await pause();
      };
      const nothing: Taken = { shots: [], actions: [], onto: null, failed: [] };
      let taken = nothing;
      try {
        taken = await takeFiles(files, progress, wanted);
      } catch (error) {
        if (!(error instanceof Stopped)) message.error(sayError(error));
      } finally {
        notification.destroy(KEY);
      }
      // Of one file nothing is kept yet that a shot would name.
      if (stopped && files.length < 2) return nothing;
      const { shots, actions, onto, failed } = taken;
      if (failed.length > 0)
        notification.error({
          key: "files-not-opened",
          title: failed.length === 1 ? "A file was not opened" : `${failed.length} files were not opened`,
          description: <List lines={failed.map(({ file, why }) => `${file}: ${why}`)} />,
          placement: "bottomRight",
          duration: false,
          role: "alert",
        });
      if (actions.length > 0) {
        await queryClient.invalidateQueries({ queryKey: ["actions"] });
        message.success(actions.length === 1 ? "The action is in the pantry." : `${actions.length} actions are in the pantry.`);
      }
      // The card says what will be laid where, before anything is.
      if (onto) {
        const { current } = useDocuments.getState();
        if (current !== null && !window.location.pathname.endsWith(`/shots/${current}`)) navigate(`/shots/${current}`);
        (await import("../bench/work/workStore.ts")).useWork.getState().open("apply-action", { action: onto });
      }
      if (shots.length === 1) {
        const [{ shot, notes }] = shots;
        try {
          // From here on no other tab can open it for work; saving it is the same as saving any change.
          await shotDoor.adopt(shot);
          useDocuments.getState().add(shot, false);
          void saveNow();
          if (notes.length > 0)
            notification.info({ title: `Opened ${shot.name}`, description: <List lines={notes} />, placement: "bottomRight", duration: 8 });
          navigate(`/shots/${shot.id}`);
        } catch (error) {
          message.error(sayError(error));
        }
      }
      if (shots.length > 1) {
        const lost: string[] = [];
        for (const { shot } of shots) await keepShot(shot).catch((error: unknown) => lost.push(`${shot.name}: ${saySaveError(error)}`));
        if (lost.length > 0)
          notification.error({
            title: "Not everything could be kept",
            description: <List lines={lost} />,
            placement: "bottomRight",
            duration: false,
          });
        if (lost.length < shots.length) message.success(`${shots.length - lost.length} shots are on the shelf.`);
        // What shots of one file have in common is said once.
        const notes = [...new Set(shots.flatMap((one) => one.notes))];
        if (notes.length > 0)
          notification.info({
            title: "What was opened",
            description: <List lines={notes.slice(0, 12)} />,
            placement: "bottomRight",
            duration: 10,
          });
        await queryClient.invalidateQueries({ queryKey: ["shelf"] });
        navigate("/");
      }
      return taken;
    },
    [notification, message, navigate, wanted],
  );
}
