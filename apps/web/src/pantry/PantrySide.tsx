import { useDroppable } from "@dnd-kit/core";
import type { ActionCard } from "@kneader/core";
import { App as AntApp, Button, Input, Tag } from "antd";
import { FolderPlus, Users } from "lucide-react";
import { memo, useMemo, useState } from "react";
import { sayError } from "@kneader/core";
import { SHARED } from "../storage/sharedShelf.ts";
import { type FolderLine, folderLines } from "./findCards.ts";
import { SharedLock } from "./SharedLock.tsx";
import { useRootFolders } from "./rootFolders.ts";
import { renameFolder } from "./pantryDeeds.ts";

interface PantrySideProps {
  cards: readonly ActionCard[];
  folder: string | null;
  tag: string | null;
  onFolder(folder: string | null): void;
  onTag(tag: string | null): void;
}

/** Folders in folders and tags, with how many there are of each. Actions are dropped on folders. */
export const PantrySide = memo(function PantrySide({ cards, folder, tag, onFolder, onTag }: PantrySideProps) {
  const [made, setMade] = useState<readonly string[]>([]);
  const [naming, setNaming] = useState<string | null>(null);
  const roots = useRootFolders();
  const lines = useMemo(() => folderLines(cards, [...roots, ...made]), [cards, roots, made]);
  const tags = useMemo(() => {
    const counts = new Map<string, number>();
    for (const card of cards) for (const name of card.tags) counts.set(name, (counts.get(name) ?? 0) + 1);
    return [...counts].sort(([a], [b]) => a.localeCompare(b));
  }, [cards]);
  const add = (name: string) => {
    const plain = name.trim().replace(/^\/+|\/+$/g, "");
    if (plain) setMade([...made, folder ? `${folder}/${plain}` : plain]);
    setNaming(null);
  };
  return (
    <aside className="panel pantry-side" aria-label="Folders and tags">
      <h1>Pantry</h1>
      <SharedLock />
      <button
        type="button"
        className={folder === null ? "folder chosen" : "folder"}
        aria-pressed={folder === null}
        onClick={() => onFolder(null)}
      >
        <span>Everything</span>
        <span className="mono">{cards.length}</span>
      </button>
      {lines.map((line) => (
        <FolderButton key={line.path} line={line} chosen={folder === line.path} onClick={() => onFolder(line.path)} />
      ))}
      {naming === null ? (
        <Button
          size="small"
          type="text"
          icon={<FolderPlus size={14} />}
          title="An empty folder is there as long as this page; put something in"
          onClick={() => setNaming("")}
        >
          New folder{folder ? ` in ${folder.slice(folder.lastIndexOf("/") + 1)}` : ""}
        </Button>
      ) : (
        <Input
          size="small"
          autoFocus
          aria-label="Name of the new folder"
          value={naming}
          onChange={(event) => setNaming(event.target.value)}
          onPressEnter={() => add(naming)}
          onBlur={() => add(naming)}
          onKeyDown={(event) => event.key === "Escape" && setNaming(null)}
        />
      )}
      <p className="quiet">Tags</p>
      <div className="tag-list">
        {tags.map(([name, count]) => (
          <Tag.CheckableTag key={name} checked={tag === name} onChange={(checked) => onTag(checked ? name : null)}>
            {name} {count}
          </Tag.CheckableTag>
        ))}
      </div>
    </aside>
  );
});

function FolderButton({ line: { path, name, depth, count }, chosen, onClick }: { line: FolderLine; chosen: boolean; onClick(): void }) {
  const { setNodeRef, isOver } = useDroppable({ id: path });
  const { message } = AntApp.useApp();
  const [renaming, setRenaming] = useState(false);
  const rename = (next: string) => {
    setRenaming(false);
    const plain = next.trim().replace(/\//g, " ");
    if (plain && plain !== name)
      void renameFolder(path, path.slice(0, path.length - name.length) + plain).catch((error: unknown) => message.error(sayError(error)));
  };
  if (renaming)
    return (
      <Input
        size="small"
        autoFocus
        aria-label={`Name of folder ${name}`}
        defaultValue={name}
        onPressEnter={(event) => rename(event.currentTarget.value)}
        onBlur={(event) => rename(event.currentTarget.value)}
        onKeyDown={(event) => event.key === "Escape" && setRenaming(false)}
      />
    );
  return (
    <button
      ref={setNodeRef}
      type="button"
      className={`folder ${chosen ? "chosen" : ""} ${isOver ? "over" : ""}`}
      style={{ paddingLeft: 10 + 14 * depth }}
      aria-pressed={chosen}
      title={`${path}: drop actions here; double-click or F2 renames`}
      onClick={onClick}
      onDoubleClick={() => setRenaming(true)}
      onKeyDown={(event) => event.key === "F2" && setRenaming(true)}
    >
      <span>
        {path === SHARED && <Users size={12} aria-hidden />} {name}
      </span>
      <span className="mono">{count}</span>
    </button>
  );
}
