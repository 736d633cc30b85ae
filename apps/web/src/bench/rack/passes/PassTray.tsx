import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { SortableContext, verticalListSortingStrategy } from "@dnd-kit/sortable";
import {
  activePasses,
  BASE,
  bandsBeside,
  countKeys,
  makePass,
  type PassKind,
  passKind,
  passKinds,
  playPass,
  type Shot,
} from "@kneader/core";
import { Button, Dropdown } from "antd";
import { Plus } from "lucide-react";
import { memo, useCallback, useMemo, useState } from "react";
import { addPass, movePass } from "../../edits.ts";
import { useDrawer } from "../../drawer/drawerStore.ts";
import { useReadOnly, useShownList, useShownPart } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { useWork } from "../../work/workStore.ts";
import { isLong, useSettled } from "../../useSettled.ts";
import { matchesWords } from "../channels/channelFilter.ts";
import { PassBand } from "./PassBand.tsx";
import { PassMenu, type PassMenuPlace } from "./PassMenu.tsx";
import { PassRow } from "./PassRow.tsx";
import { VersionMenu } from "./VersionMenu.tsx";
import { TrayRow } from "../TrayRow.tsx";

/** From so many passes on they are searched. */
const MANY = 8;

/** The stack: one band a pass, topmost first, base motion at the bottom. */
export function PassTray() {
  // Only which passes there are and what they are called: each row follows its own pass, so that a dragged one draws no other anew.
  const stack = useShownList((shot) => shot.passes.map(({ id }) => id));
  const texts = useShownList((shot) => shot.passes.map(({ name, kind }) => `${name} ${passKind(kind)?.title ?? ""}`));
  const readOnly = useReadOnly();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const [menu, setMenu] = useState<PassMenuPlace | null>(null);
  const [words, setWords] = useState("");
  const searched = stack.length > MANY;
  const leads = useShownList(leadsOf);
  const ids = useMemo(
    () => stack.filter((id, i) => leads[i] === id && (!searched || matchesWords(texts[i], words))).reverse(),
    [stack, leads, texts, searched, words],
  );
  const closeMenu = useCallback(() => setMenu(null), []);
  const reorder = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const place = (id: unknown) => stack.indexOf(String(id));
    movePass(String(active.id), place(over.id) - place(active.id));
  };
  return (
    <div className="pass-tray" role="group" aria-label="Passes">
      <TrayRow
        name="Passes"
        className="pass-head"
        gutter={
          <>
            <b>Passes</b>
            <AddPass disabled={readOnly} />
          </>
        }
      >
        <VersionMenu />
        {searched ? (
          <input
            className="pass-search"
            type="search"
            aria-label="Find a pass"
            placeholder={`Find one of ${stack.length} passes`}
            value={words}
            onChange={(event) => setWords(event.target.value)}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === "Escape" || event.key === "Enter") event.currentTarget.blur();
            }}
          />
        ) : (
          <span className="quiet stack-note">Added up from the bottom</span>
        )}
      </TrayRow>
      <div className="pass-rows">
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={reorder}>
          <SortableContext items={ids} strategy={verticalListSortingStrategy}>
            {ids.map((id) => (
              <ListedPass key={id} id={id} onMenu={setMenu} />
            ))}
          </SortableContext>
        </DndContext>
        {ids.length === 0 && searched && <p className="quiet empty-line">No pass has "{words}" in its name.</p>}
        <BaseRow />
      </div>
      <PassMenu place={menu} onClose={closeMenu} />
    </div>
  );
}

/** By pass, the topmost of the bands that share its row: the row is listed where that one stands. */
function leadsOf(shot: Shot): string[] {
  return shot.passes.map(({ id }) => {
    const beside = bandsBeside(shot, id);
    return beside.length < 2 ? id : (shot.passes.findLast((pass) => beside.includes(pass))?.id ?? id);
  });
}

/** A row that follows its pass; of a row of bands, the chosen one's, with the others beside it. */
function ListedPass({ id, onMenu }: { id: string; onMenu(place: PassMenuPlace): void }) {
  const besides = useShownList((shot) => bandsBeside(shot, id).map((pass) => pass.id));
  const layer = useSelection((state) => state.layer);
  const shown = besides.includes(layer) ? layer : id;
  const pass = useShownPart((shot) => shot.passes.find((one) => one.id === shown));
  const plays = useShownPart((shot) => activePasses(shot).some((one) => one.id === shown));
  if (!pass) return null;
  return (
    <PassRow pass={pass} chosen={layer === shown} plays={plays} onMenu={onMenu} sortAs={id}>
      {besides
        .filter((one) => one !== shown)
        .map((one) => (
          <BesideBand key={one} id={one} />
        ))}
    </PassRow>
  );
}

function BesideBand({ id }: { id: string }) {
  const pass = useShownPart((shot) => shot.passes.find((one) => one.id === id));
  return pass ? <PassBand pass={pass} chosen={false} onChoose={() => useSelection.getState().setLayer(id)} editable /> : null;
}

const AddPass = memo(function AddPass({ disabled }: { disabled: boolean }) {
  return (
    <Dropdown
      disabled={disabled}
      trigger={["click"]}
      menu={{
        items: passKinds.map((kind) => ({ key: kind.id, label: kindLabel(kind), title: kind.help })),
        onClick: ({ key }) => makeOf(key),
      }}
    >
      <Button type="text" size="small" aria-label="Add a pass" title="Add a pass (A adds an adding one)" icon={<Plus size={16} />} />
    </Dropdown>
  );
});

const kindLabel = (kind: PassKind) => (kind.reads === "keys" ? `Pass that ${kind.title.toLowerCase()}` : `${kind.title} …`);

/** A keyed pass is simply added; a computed one is made in the work card, where it is seen before it is there. */
function makeOf(id: string): void {
  const kind = passKind(id);
  if (!kind) return;
  if (kind.reads === "keys") addPass(kind.id);
  else {
    if (kind.id === playPass.id) {
      useWork.getState().close();
      useDrawer.setState({ isOpen: true, fresh: true });
      return;
    }
    // With another pass of the kind chosen the operation would shape that one.
    useSelection.getState().setLayer(BASE);
    useWork.getState().open(kind.madeBy);
  }
}

function BaseRow() {
  const chosen = useSelection((state) => state.layer === BASE);
  const setLayer = useSelection((state) => state.setLayer);
  const long = useShownPart(isLong);
  const now = useShownPart((shot) => shot.base);
  const base = useSettled(now, long);
  const pass = useMemo(() => makePass(BASE, "Base motion", "base", base), [base]);
  return (
    <TrayRow
      name="Base motion"
      className={`pass-row ${chosen ? "chosen" : ""}`}
      gutter={
        <button
          type="button"
          className="pass-name base"
          aria-pressed={chosen}
          title={`${countKeys(base)} keys`}
          onClick={() => setLayer(BASE)}
        >
          Base motion
        </button>
      }
    >
      <PassBand pass={pass} chosen={chosen} onChoose={() => setLayer(BASE)} />
    </TrayRow>
  );
}
