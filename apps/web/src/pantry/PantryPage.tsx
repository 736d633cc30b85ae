import { DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import type { ActionCard } from "@kneader/core";
import { sayError } from "@kneader/core";
import { App as AntApp, Button, Empty, Input, Select } from "antd";
import { FolderOpen, Search } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { Header } from "../app/Header.tsx";
import { useTakeFiles } from "../app/useTakeFiles.tsx";
import { ChosenAction } from "./ChosenAction.tsx";
import { ChosenMany } from "./ChosenMany.tsx";
import { type CardOrder, findCards } from "./findCards.ts";
import { moveCards, throwAway } from "./pantryDeeds.ts";
import { PantrySide } from "./PantrySide.tsx";
import { SHARED } from "../storage/sharedShelf.ts";
import { SharedConflict } from "./SharedConflict.tsx";
import { useSharedShelf } from "./SharedLock.tsx";
import { TileGrid } from "./TileGrid.tsx";
import { askForCards, useCards } from "./useActions.ts";
import { useWriting } from "./writing.ts";
import "./pantry.css";

const NONE: readonly ActionCard[] = [];
// What is there is asked for while the page is being made.
void askForCards();

/** The tiles come first: the figure of the one at hand is taken up when they are seen. */
const FIRST = 500;

function useSettledOnce(begun: boolean): boolean {
  const [settled, setSettled] = useState(false);
  useEffect(() => {
    if (!begun) return;
    const timer = setTimeout(() => setSettled(true), FIRST);
    return () => clearTimeout(timer);
  }, [begun]);
  return settled;
}

/** Saved actions and poses: find, look, put in order, lay. */
export function PantryPage() {
  const cards = useCards();
  useSharedShelf();
  const { message } = AntApp.useApp();
  const [words, setWords] = useState("");
  const [folder, setFolder] = useState<string | null>(null);
  const [tag, setTag] = useState<string | null>(null);
  const [order, setOrder] = useState<CardOrder>("new");
  const settled = useSettledOnce(cards !== undefined);
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const file = useRef<HTMLInputElement>(null);
  const tree = useRef<HTMLInputElement>(null);
  const all = cards ?? NONE;
  const shown = useMemo(() => findCards(all, { words, folder, tag, order }), [all, words, folder, tag, order]);
  const chosen = shown.filter(({ id }) => picked.has(id));
  // Whose card is being written in stays, whatever becomes of it elsewhere.
  const writing = useWriting((state) => state.action?.card.id);
  const atHand = writing ?? (chosen[0] ?? shown[0])?.id;
  const takeFiles = useTakeFiles("actions");
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const tell = (work: Promise<unknown>) => void work.catch((error: unknown) => message.error(sayError(error)));

  const choose = (card: ActionCard, event: React.MouseEvent) => {
    if (event.ctrlKey || event.metaKey) {
      const next = new Set(picked);
      if (!next.delete(card.id)) next.add(card.id);
      setPicked(next);
    } else if (event.shiftKey && chosen.length > 0) {
      const [from, to] = [shown.indexOf(chosen[0]), shown.indexOf(card)].sort((a, b) => a - b);
      setPicked(new Set(shown.slice(from, to + 1).map(({ id }) => id)));
    } else setPicked(new Set([card.id]));
  };
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over) return;
    const dragged = picked.has(String(active.id)) ? chosen : shown.filter(({ id }) => id === active.id);
    tell(moveCards(dragged, String(over.id)));
  };

  return (
    <div className="page pantry">
      <Header page="pantry" />
      <DndContext sensors={sensors} onDragEnd={drop}>
        <main className="pantry-main">
          <PantrySide cards={all} folder={folder} tag={tag} onFolder={setFolder} onTag={setTag} />
          <section className="pantry-list" aria-label="Actions and poses">
            <div className="pantry-tools">
              <Input
                allowClear
                prefix={<Search size={14} />}
                placeholder="Search names, tags, notes and controls"
                aria-label="Search actions and poses"
                value={words}
                onChange={(event) => setWords(event.target.value)}
              />
              <Select
                aria-label="Order"
                value={order}
                options={[
                  { value: "new", label: "Newest first" },
                  { value: "name", label: "By name" },
                  { value: "length", label: "Shortest first" },
                ]}
                onChange={setOrder}
              />
              <input
                ref={file}
                type="file"
                hidden
                aria-label="Action file"
                accept=".json,.bvh,.glb,.gltf,.zip"
                multiple
                onChange={async (event) => {
                  const files = [...(event.target.files ?? [])];
                  event.target.value = "";
                  const { actions } = await takeFiles(files);
                  if (actions.length > 0) setPicked(new Set(actions));
                }}
              />
              <input
                ref={tree}
                type="file"
                hidden
                aria-label="Folder of actions"
                // A folder with all that is in it, as browsers call it.
                {...{ webkitdirectory: "" }}
                onChange={async (event) => {
                  const files = [...(event.target.files ?? [])].filter(({ name }) => /\.(json|bvh|glb|gltf|zip|bin)$/i.test(name));
                  event.target.value = "";
                  if (files.length > 0) await takeFiles(files);
                }}
              />
              <Button title="All actions, BVH and glTF files in a folder" onClick={() => tree.current?.click()}>
                Folder
              </Button>
              <Button
                icon={<FolderOpen size={15} />}
                title="Actions, BVH and glTF files, or a zip of them"
                onClick={() => file.current?.click()}
              >
                Import files
              </Button>
            </div>
            {cards && shown.length === 0 ? (
              <Empty
                description={
                  all.length === 0
                    ? "Nothing saved yet. On the bench mark a range and press Shift S."
                    : folder === SHARED && words === "" && tag === null
                      ? "Nothing is on the shared shelf yet. Unlock it at the left, then drag actions onto its folder, or choose it as the folder when you save one."
                      : "Nothing fits. Take away a tag or a word."
                }
              />
            ) : (
              <TileGrid
                cards={shown}
                chosen={picked}
                draggable
                onChoose={choose}
                onOpen={(card) => setPicked(new Set([card.id]))}
                onRemove={() => chosen.length > 0 && tell(throwAway(chosen))}
              />
            )}
          </section>
          {chosen.length > 1 && writing === undefined ? (
            <ChosenMany cards={chosen} onDone={() => setPicked(new Set())} />
          ) : (
            atHand !== undefined && (chosen.length > 0 || settled || writing !== undefined) && <ChosenAction key={atHand} id={atHand} />
          )}
        </main>
      </DndContext>
      <SharedConflict />
    </div>
  );
}
