import { type ActionCard, operations } from "@kneader/core";
import { Button, Empty, Input, Select } from "antd";
import { Search, X } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { ActionPlayer } from "../../pantry/ActionPlayer.tsx";
import { findCards, folderLines } from "../../pantry/findCards.ts";
import { useRootFolders } from "../../pantry/rootFolders.ts";
import { useSharedShelf } from "../../pantry/SharedLock.tsx";
import { TileGrid } from "../../pantry/TileGrid.tsx";
import { useAction, useCards } from "../../pantry/useActions.ts";
import { pantry } from "../../storage/pantry.ts";
import { commandShortcut } from "../commandKeys.ts";
import { useWork } from "../work/workStore.ts";
import { TakePose } from "./TakePose.tsx";
import { useDrawer } from "./drawerStore.ts";
import { dragAction } from "./layDrag.ts";
import "../../pantry/pantry.css";
import "./drawer.css";

/** The pantry on the bench: actions are dragged from it onto the trays, or opened in the card that lays them. */
export function Drawer() {
  const cards = useCards();
  useSharedShelf();
  const { words, folder, chosen: picked, fresh, close } = useDrawer();
  useEffect(() => useDrawer.setState({ fresh: false }), []);
  const found = useMemo(() => findCards(cards ?? [], { words, folder, tag: null, order: "new" }), [cards, words, folder]);
  const roots = useRootFolders();
  const folders = useMemo(() => folderLines(cards ?? [], roots), [cards, roots]);
  const open = async (card: ActionCard) => {
    const action = await pantry.get(card.id);
    if (action) useWork.getState().open(operations.layAction.id, { action, carry: action.clip.length > 0 });
  };
  const chosen = found.find(({ id }) => id === picked)?.id ?? found[0]?.id;
  return (
    <div
      className="work-choice drawer"
      role="group"
      aria-label="Pantry drawer"
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        close();
      }}
    >
      <div className="work-choice-head">
        <h2>Pantry</h2>
        <Input
          size="small"
          allowClear
          autoFocus={fresh}
          prefix={<Search size={13} />}
          placeholder="Find an action"
          aria-label="Find an action"
          value={words}
          onChange={(event) => useDrawer.setState({ words: event.target.value })}
          onKeyDown={(event) => {
            if (event.key === "Enter" && found[0]) void open(found[0]);
            if (event.key === "ArrowDown") event.currentTarget.closest(".drawer")?.querySelector<HTMLElement>("[data-card]")?.focus();
            if (event.key !== "Escape") event.stopPropagation();
          }}
        />
        <Select
          size="small"
          aria-label="Folder"
          value={folder ?? ""}
          options={[
            { value: "", label: "All folders" },
            ...folders.map(({ path, name, depth }) => ({ value: path, label: `${" ".repeat(2 * depth)}${name}` })),
          ]}
          onChange={(value) => useDrawer.setState({ folder: value || null })}
        />
        <Button
          size="small"
          type="text"
          aria-label="Close the drawer"
          title={`Back to the operations (${commandShortcut("drawer")} or Esc)`}
          icon={<X size={14} />}
          onClick={close}
        />
      </div>
      {cards && found.length === 0 ? (
        <Empty
          description={
            cards.length === 0 ? "Nothing saved yet. Mark a range and press Shift S." : "Nothing fits. Take away a word or a folder."
          }
        />
      ) : (
        <TileGrid
          small
          cards={found}
          chosen={new Set(chosen ? [chosen] : [])}
          titleOf={({ name }) =>
            `${name}: drag it onto the ruler or the curves (in place of what is there), the poses (later ones make room) or the passes (a band); double-click to see it laid before it is`
          }
          onChoose={(card) => useDrawer.setState({ chosen: card.id })}
          onOpen={(card) => void open(card)}
          onPress={(at, action) => dragAction(action, at)}
        />
      )}
      {chosen && <Chosen key={chosen} id={chosen} onLay={(card) => void open(card)} />}
    </div>
  );
}

/** The chosen one: played or scrubbed, laid, or a frame of it taken as a pose. */
function Chosen({ id, onLay }: { id: string; onLay(card: ActionCard): void }) {
  const action = useAction(id);
  const [frame, setFrame] = useState(0);
  if (!action) return null;
  return (
    <div className="drawer-chosen">
      <ActionPlayer action={action} small onFrame={setFrame} />
      <div className="drawer-deeds">
        <b>{action.card.name}</b>
        <span className="drawer-row">
          <Button size="small" type="primary" onClick={() => onLay(action.card)}>
            Lay it …
          </Button>
          <TakePose action={action} frame={frame} />
        </span>
      </div>
    </div>
  );
}
