import { type Action, type ActionCard, matchClip, operations, sayError, type Shot, writeAction } from "@kneader/core";
import { App as AntApp, Button, Empty, Input, Popconfirm, Select, Tag } from "antd";
import { Download, FolderOpen, Search, Trash2 } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { Header } from "../app/Header.tsx";
import { clock } from "../bench/clock.ts";
import { currentDocument, useDocuments } from "../bench/documents.ts";
import { NumberField } from "../bench/NumberField.tsx";
import { performSoon } from "../bench/perform.ts";
import { download } from "../export/download.ts";
import { pantry } from "../storage/pantry.ts";
import { useTakeFiles } from "../app/useTakeFiles.tsx";
import { ActionPicture } from "./ActionPicture.tsx";
import { ActionPlayer } from "./ActionPlayer.tsx";
import { pantryChanged, useAction, useCards } from "./useActions.ts";

/** Saved actions and poses: find, look, apply. */
export function PantryPage() {
  const actions = useCards();
  const [words, setWords] = useState("");
  const [folder, setFolder] = useState<string | null>(null);
  const [tag, setTag] = useState<string | null>(null);
  const [sort, setSort] = useState<"new" | "name">("new");
  const [chosenId, setChosen] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const all = actions ?? [];
  const shown = useMemo(() => {
    const parts = words.toLowerCase().split(/\s+/).filter(Boolean);
    const found = all.filter(
      (action) =>
        (folder === null || action.folder === folder) &&
        (tag === null || action.tags.includes(tag)) &&
        parts.every((part) => `${action.name} ${action.tags.join(" ")} ${action.notes}`.toLowerCase().includes(part)),
    );
    return sort === "name" ? [...found].sort((a, b) => a.name.localeCompare(b.name)) : found;
  }, [all, words, folder, tag, sort]);
  const chosen = all.find((action) => action.id === chosenId) ?? shown[0] ?? null;

  const takeFiles = useTakeFiles("actions");

  return (
    <div className="page pantry">
      <Header page="pantry" />
      <main className="pantry-main">
        <PantrySide cards={all} folder={folder} tag={tag} onFolder={setFolder} onTag={setTag} />
        <section className="pantry-list" aria-label="Actions and poses">
          <div className="pantry-tools">
            <Input
              allowClear
              prefix={<Search size={14} />}
              placeholder="Search actions and poses"
              aria-label="Search actions and poses"
              value={words}
              onChange={(event) => setWords(event.target.value)}
            />
            <Select
              aria-label="Order"
              value={sort}
              options={[
                { value: "new", label: "Newest first" },
                { value: "name", label: "By name" },
              ]}
              onChange={setSort}
            />
            <input
              ref={file}
              type="file"
              hidden
              aria-label="Action file"
              accept=".json"
              multiple
              onChange={async (event) => {
                const files = [...(event.target.files ?? [])];
                event.target.value = "";
                const [first] = (await takeFiles(files)).actions;
                if (first) setChosen(first);
              }}
            />
            <Button icon={<FolderOpen size={15} />} onClick={() => file.current?.click()}>
              Import files
            </Button>
          </div>
          <div className="action-grid">
            {shown.map((action) => (
              <ActionButton key={action.id} card={action} chosen={action === chosen} onChoose={() => setChosen(action.id)} />
            ))}
          </div>
          {actions && shown.length === 0 && (
            <Empty
              description={
                all.length === 0 ? "Nothing saved yet. On the bench choose Save as action." : "Nothing fits. Take away a tag or a word."
              }
            />
          )}
        </section>
        {chosen && <ChosenDetails key={chosen.id} id={chosen.id} />}
      </main>
    </div>
  );
}

interface PantrySideProps {
  cards: readonly ActionCard[];
  folder: string | null;
  tag: string | null;
  onFolder(folder: string | null): void;
  onTag(tag: string | null): void;
}

/** Folders and tags, with how many there are of each. */
function PantrySide({ cards, folder, tag, onFolder, onTag }: PantrySideProps) {
  const folders = [...new Set(cards.map((card) => card.folder))].sort();
  const tags = [...new Set(cards.flatMap((card) => card.tags))].sort();
  return (
    <aside className="panel pantry-side" aria-label="Folders and tags">
      <h1>Pantry</h1>
      <p className="quiet">In this browser</p>
      <FolderButton name="Everything" count={cards.length} chosen={folder === null} onClick={() => onFolder(null)} />
      {folders.map((name) => (
        <FolderButton
          key={name}
          name={name}
          count={cards.filter((action) => action.folder === name).length}
          chosen={folder === name}
          onClick={() => onFolder(name)}
        />
      ))}
      <p className="quiet">Tags</p>
      <div className="tag-list">
        {tags.map((name) => (
          <Tag.CheckableTag key={name} checked={tag === name} onChange={(checked) => onTag(checked ? name : null)}>
            {name} {cards.filter((action) => action.tags.includes(name)).length}
          </Tag.CheckableTag>
        ))}
      </div>
    </aside>
  );
}

function FolderButton({ name, count, chosen, onClick }: { name: string; count: number; chosen: boolean; onClick(): void }) {
  return (
    <button type="button" className={chosen ? "folder chosen" : "folder"} aria-pressed={chosen} onClick={onClick}>
      <span>{name}</span>
      <span className="mono">{count}</span>
    </button>
  );
}

function ActionButton({ card, chosen, onChoose }: { card: ActionCard; chosen: boolean; onChoose(): void }) {
  const action = useAction(card.id);
  return (
    <button type="button" className={chosen ? "action-card chosen" : "action-card"} aria-pressed={chosen} onClick={onChoose}>
      <ActionPicture action={action} />
      <span className="action-name">{card.name}</span>
      <span className="quiet">{action ? sayClip(action) : " "}</span>
    </button>
  );
}

/** "24 frames · 5 curves", "Pose · 12 curves" */
function sayClip({ clip }: Action): string {
  return `${clip.length > 0 ? `${clip.length} frames` : "Pose"} · ${Object.keys(clip.curves).length} curves`;
}

function ChosenDetails({ id }: { id: string }) {
  const action = useAction(id);
  return action ? <Details action={action} /> : null;
}

function Details({ action }: { action: Action }) {
  const { card, clip } = action;
  const shot = useDocuments((state) => (state.current ? currentDocument() : null));
  const [at, setAt] = useState(clock.frame);
  const [speed, setSpeed] = useState(100);
  const navigate = useNavigate();
  const { message } = AntApp.useApp();
  const match = useMemo(() => (shot ? matchClip(clip, shot.rig) : null), [clip, shot]);
  const total = Object.keys(clip.curves).length;
  const put = async () => {
    const now = currentDocument() as Shot;
    try {
      const report = await performSoon(operations.layAction, operations.layAction.settings.parse({ action, at, speed }));
      message.success(report.summary);
      for (const line of [...report.warnings, ...report.notes]) message.warning(line, 6);
      navigate(`/shots/${now.id}`);
    } catch (error) {
      message.error(sayError(error));
    }
  };
  return (
    <aside className="panel pantry-details" aria-label={card.name}>
      <ActionPlayer action={action} />
      <div className="details-text">
        <h2>{card.name}</h2>
        <p className="quiet">
          {sayClip(action)} · {card.folder}
        </p>
        {card.notes && <p>{card.notes}</p>}
        <div className="tag-list">
          {card.tags.map((tag) => (
            <Tag key={tag}>{tag}</Tag>
          ))}
        </div>
        {shot && match ? (
          <>
            <h3>
              Match with {shot.name}{" "}
              <Tag color={match.unmatched.length === 0 ? "green" : "gold"}>
                {match.matched.size} of {total}
              </Tag>
            </h3>
            <div className="match-bar">
              <i style={{ width: `${(match.matched.size / total) * 100}%` }} />
            </div>
            {match.unmatched.length > 0 && (
              <p className="quiet">
                Left out: {match.unmatched.slice(0, 4).join(", ")}
                {match.unmatched.length > 4 ? ` and ${match.unmatched.length - 4} more` : ""}
              </p>
            )}
            <div className="details-fields">
              <label>
                At frame <NumberField label="At frame" decimals={0} value={at} onCommit={setAt} />
              </label>
              <label>
                Speed <NumberField label="Speed" decimals={0} suffix=" %" min={1} max={1000} value={speed} onCommit={setSpeed} />
              </label>
            </div>
            <Button type="primary" size="large" block onClick={() => void put()}>
              Apply to {shot.name}
            </Button>
          </>
        ) : (
          <p className="quiet">Open a shot on the bench to apply this to it.</p>
        )}
        <div className="details-tools">
          <Button size="small" icon={<Download size={14} />} onClick={() => download(writeAction(action), `${card.name}.json`)}>
            Save as file
          </Button>
          <Popconfirm
            title={`Throw "${card.name}" away?`}
            okText="Throw away"
            onConfirm={async () => {
              await pantry.remove(card.id);
              await pantryChanged();
            }}
          >
            <Button size="small" icon={<Trash2 size={14} />}>
              Throw away
            </Button>
          </Popconfirm>
        </div>
      </div>
    </aside>
  );
}
