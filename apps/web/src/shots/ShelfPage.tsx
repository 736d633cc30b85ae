import { formats, freshId, KneaderError, operations, sayError } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { useQuery } from "@tanstack/react-query";
import { App as AntApp, Alert, Button, Dropdown, Input, Modal } from "antd";
import { FolderOpen, ListChecks, MoreHorizontal } from "lucide-react";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { Header } from "../app/Header.tsx";
import { queryClient } from "../app/queryClient.ts";
import { useTakeFiles } from "../app/useTakeFiles.tsx";
import { useDocuments } from "../bench/documents.ts";
import { perform } from "../bench/perform.ts";
import { sayAgo, sayBytes } from "../bench/units.ts";
import { download } from "../export/download.ts";
import { saveNow } from "../storage/autosave.ts";
import { shotDoor, shotRecords } from "../storage/kept.ts";
import { listShots, purgeDeleted, sweepOnce } from "../storage/shelf.ts";
import { assetOf } from "../storage/assetOf.ts";
import { type AsideRecord, saySaveError, type ShotRecord } from "../storage/shotRecords.ts";
import { makeDemoShot } from "./demo.ts";
import { ShotPicture } from "./ShotPicture.tsx";
import { keepShot } from "./takeFiles.ts";

async function shelf() {
  await saveNow();
  await purgeDeleted();
  const listed = await listShots();
  void sweepOnce();
  const estimate = await navigator.storage?.estimate?.().catch(() => null);
  return { ...listed, used: estimate?.usage ?? null, quota: estimate?.quota ?? null };
}

const refresh = () => queryClient.invalidateQueries({ queryKey: ["shelf"] });

/** What can be opened, and the data that stands beside some of it. */
const ACCEPTED = [...formats.map(({ extension }) => extension), ".bin", ".png", ".jpg", ".jpeg", ".webp", ".ktx2"].join();

/** What can be done with shots on the shelf; whatever goes wrong is told. */
function useShelfWork() {
  const { message, notification } = AntApp.useApp();
  const tried = async (work: () => Promise<unknown>) => {
    try {
      await work();
      return true;
    } catch (error) {
      message.error(error instanceof KneaderError ? sayError(error) : saySaveError(error));
      return false;
    }
  };

  const remove = async (record: { id: string; name: string }, word: string) => {
    const { id, name } = record;
    // What was changed last must be there should it be brought back.
    await saveNow();
    const done = await tried(() => shotDoor.alone(id, name, () => shotRecords.markDeleted(id, true)));
    if (!done) return;
    useDocuments.getState().close(id);
    shotDoor.handleOf(id)?.release();
    await refresh();
    const key = `deleted-${id}`;
    const bringBack = async () => {
      await tried(() => shotDoor.alone(id, name, () => shotRecords.markDeleted(id, false)));
      notification.destroy(key);
      await refresh();
    };
    notification.info({
      key,
      title: `${word} "${name}"`,
      duration: 12,
      placement: "bottomRight",
      actions: (
        <Button type="primary" size="small" onClick={bringBack}>
          Undo
        </Button>
      ),
    });
  };

  const duplicate = async (id: string, name: string) => {
    await saveNow();
    await tried(async () => {
      const shot = (await shotRecords.load(id))?.shot ?? (await makeDemoShot(id));
      if (shot) await keepShot({ ...shot, id: freshId("shot"), name: `${name} copy` });
    });
    await refresh();
  };
  return { remove, duplicate };
}

/** All shots: the demo's and one's own. */
export function ShelfPage() {
  const { data } = useQuery({ queryKey: ["shelf"], queryFn: shelf, refetchOnMount: "always" });
  const file = useRef<HTMLInputElement>(null);
  const kept = data?.shots ?? [];
  const takeFiles = useTakeFiles();
  const navigate = useNavigate();
  const choose = () => file.current?.click();
  return (
    <div className="page shelf">
      <Header page="shelf" />
      <main className="shelf-main">
        {(data?.aside ?? []).map((record) => (
          <AsideNote key={record.id} record={record} />
        ))}
        <div className="shelf-head">
          <h1>Shots</h1>
          <span className="quiet">Open one and rework it. Everything stays in this browser.</span>
          <span className="spring" />
          <input
            ref={file}
            type="file"
            hidden
            aria-label="Shot file"
            multiple
            accept={ACCEPTED}
            onChange={(event) => {
              const files = [...(event.target.files ?? [])];
              event.target.value = "";
              void takeFiles(files);
            }}
          />
          <Button size="large" icon={<ListChecks size={16} />} onClick={() => void navigate("/recipes")} title="Do the same to many shots">
            Run a recipe
          </Button>
          <Button type="primary" size="large" icon={<FolderOpen size={16} />} onClick={choose}>
            Import files
          </Button>
        </div>
        <OwnShots kept={kept} onChoose={choose} />
        <DemoShots kept={kept} />
      </main>
      <ShelfFoot used={data?.used} quota={data?.quota} />
    </div>
  );
}

function OwnShots({ kept, onChoose }: { kept: readonly ShotRecord[]; onChoose(): void }) {
  const { remove, duplicate } = useShelfWork();
  const own = kept.filter((record) => !demoShots.some((demo) => demo.id === record.id));
  return (
    <section aria-label="Your shots">
      <h2>Yours</h2>
      <div className="shot-grid">
        {own.map((record) => (
          <ShotCard
            key={record.id}
            id={record.id}
            name={record.name}
            note={`${saySize(record, kept)} · saved ${sayAgo(record.savedAt, Date.now())}`}
            record={record}
            onRemove={() => void remove(record, "Deleted")}
            onDuplicate={() => void duplicate(record.id, record.name)}
            removeWord="Delete"
          />
        ))}
        <button type="button" className="drop-card" onClick={onChoose}>
          <b>Drop files here</b>
          <span className="quiet">{formats.map(({ extension }) => extension).join(" ")}</span>
        </button>
      </div>
    </section>
  );
}

/** What a shot takes in storage; a character that several share is there once. */
function saySize(record: ShotRecord, kept: readonly ShotRecord[]): string {
  const asset = assetOf(record);
  if (!asset) return sayBytes(record.bytes);
  const sharing = kept.filter((other) => assetOf(other)?.hash === asset.hash).length - 1;
  return `${sayBytes(record.bytes)} + character ${sayBytes(asset.bytes)}${sharing > 0 ? `, shared with ${sharing} more` : ""}`;
}

function DemoShots({ kept }: { kept: readonly ShotRecord[] }) {
  const { remove, duplicate } = useShelfWork();
  return (
    <section aria-label="Demo shots">
      <h2>
        At the landing <span className="quiet">five shots to try things on</span>
      </h2>
      <div className="shot-grid">
        {demoShots.map((demo) => {
          const record = kept.find((r) => r.id === demo.id);
          return (
            <ShotCard
              key={demo.id}
              id={demo.id}
              name={record?.name ?? demo.name}
              note={record ? `Changed ${sayAgo(record.savedAt, Date.now())}` : demo.note}
              record={record}
              onRemove={record ? () => void remove(record, "Put back as it came:") : undefined}
              onDuplicate={() => void duplicate(demo.id, demo.name)}
              removeWord="Put back as it came"
            />
          );
        })}
      </div>
    </section>
  );
}

function ShelfFoot({ used, quota }: { used: number | null | undefined; quota: number | null | undefined }) {
  const navigate = useNavigate();
  return (
    <footer className="status">
      <span className="quiet">
        {used ? `${sayBytes(used)} used in this browser${quota ? ` of ${sayBytes(quota)}` : ""}` : "Kept in this browser"}
      </span>
      <a
        href="/settings"
        onClick={(event) => {
          event.preventDefault();
          navigate("/settings");
        }}
      >
        Settings and shortcuts
      </a>
    </footer>
  );
}

interface ShotCardProps {
  id: string;
  name: string;
  note: string;
  record?: ShotRecord;
  removeWord: string;
  onRemove?(): void;
  onDuplicate(): void;
}

function ShotCard({ id, name, note, record, removeWord, onRemove, onDuplicate }: ShotCardProps) {
  const navigate = useNavigate();
  const { message } = AntApp.useApp();
  const [naming, setNaming] = useState(false);
  const [text, setText] = useState(name);
  const rename = async () => {
    setNaming(false);
    const next = text.trim();
    if (!next || next === name) return;
    const entry = useDocuments.getState().open[id];
    const documents = useDocuments.getState();
    if (entry) {
      documents.show(id);
      const answer = perform(operations.changeShot, { name: next });
      if (!answer.done) message.error(answer.reason);
      await saveNow();
    } else
      await shotDoor.alone(id, name, () => shotRecords.rename(id, next)).catch((error: unknown) => void message.error(sayError(error)));
    await refresh();
  };
  return (
    <article className="shot-card">
      <button type="button" className="shot-open" aria-label={`Open ${name}`} onClick={() => navigate(`/shots/${id}`)}>
        <ShotPicture id={id} version={record?.savedAt ?? 0} />
      </button>
      <div className="shot-text">
        <button type="button" className="shot-name" title={name} onClick={() => navigate(`/shots/${id}`)}>
          {name}
        </button>
        <span className="quiet" title={note}>
          {note}
        </span>
      </div>
      <Dropdown
        trigger={["click"]}
        menu={{
          items: [
            { key: "duplicate", label: "Duplicate" },
            { key: "rig", label: "Rig: partners and sides" },
            { key: "rename", label: "Rename", disabled: !record },
            { key: "remove", label: removeWord, disabled: !onRemove },
          ],
          onClick: ({ key }) => {
            if (key === "duplicate") onDuplicate();
            else if (key === "rig") void navigate(`/rigs/${id}`);
            else if (key === "rename") {
              setText(name);
              setNaming(true);
            } else onRemove?.();
          },
        }}
      >
        <Button type="text" size="small" className="shot-more" aria-label={`More for ${name}`} icon={<MoreHorizontal size={16} />} />
      </Dropdown>
      <Modal
        open={naming}
        title="Rename the shot"
        onCancel={() => setNaming(false)}
        onOk={() => void rename()}
        okText="Rename"
        width={360}
        destroyOnHidden
      >
        <Input
          autoFocus
          aria-label="Name"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onPressEnter={() => void rename()}
        />
      </Modal>
    </article>
  );
}

function AsideNote({ record }: { record: AsideRecord }) {
  const save = () => download(JSON.stringify(record.raw ?? null, null, 1), `${record.name || record.id}-set-aside.json`);
  return (
    <Alert
      type="warning"
      showIcon
      title={`"${record.name}" ${record.stays === "newer" ? "was saved by a newer Kneader" : record.stays ? "cannot be read, and another tab has it" : "could not be read and was set aside"}`}
      description={record.problem}
      action={
        <span className="aside-actions">
          <Button size="small" type="primary" onClick={save}>
            Download it
          </Button>
          {!record.stays && (
            <Button
              size="small"
              onClick={async () => {
                await shotRecords.removeAside(record.id);
                await refresh();
              }}
            >
              Throw it away
            </Button>
          )}
        </span>
      }
    />
  );
}
