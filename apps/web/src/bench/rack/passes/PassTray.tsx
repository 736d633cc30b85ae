import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { SortableContext, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { activePasses, BASE, countKeys, makePass, type Pass, type PassKind, passKind, passKinds } from "@kneader/core";
import { Button, Dropdown } from "antd";
import { Plus } from "lucide-react";
import { memo, useCallback, useMemo, useState } from "react";
import { addPass, movePass } from "../../edits.ts";
import { useReadOnly, useShownPart } from "../../documents.ts";
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
  const stack = useShownPart((shot) => shot.passes);
  const layer = useSelection((state) => state.layer);
  const readOnly = useReadOnly();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const [menu, setMenu] = useState<PassMenuPlace | null>(null);
  const [words, setWords] = useState("");
  const searched = stack.length > MANY;
  const wanted = (pass: Pass) => !searched || matchesWords(`${pass.name} ${passKind(pass.kind)?.title ?? ""}`, words);
  const passes = [...stack].reverse().filter(wanted);
  // The same list as long as it is the same passes: while one is dragged the others are not drawn anew.
  const listed = passes.map((pass) => pass.id).join("\n");
  const ids = useMemo(() => (listed === "" ? [] : listed.split("\n")), [listed]);
  const closeMenu = useCallback(() => setMenu(null), []);
  const playing = new Set(activePasses({ passes: stack }).map((pass) => pass.id));
  const reorder = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const place = (id: unknown) => stack.findIndex((pass) => pass.id === id);
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
            onKeyDown={(event) => event.stopPropagation()}
          />
        ) : (
          <span className="quiet stack-note">Added up from the bottom</span>
        )}
      </TrayRow>
      <div className="pass-rows">
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={reorder}>
          <SortableContext items={ids} strategy={verticalListSortingStrategy}>
            {passes.map((pass) => (
              <PassRow key={pass.id} pass={pass} chosen={pass.id === layer} plays={playing.has(pass.id)} onMenu={setMenu} />
            ))}
          </SortableContext>
        </DndContext>
        {passes.length === 0 && searched && <p className="quiet empty-line">No pass has "{words}" in its name.</p>}
        <BaseRow chosen={layer === BASE} />
      </div>
      <PassMenu place={menu} onClose={closeMenu} />
    </div>
  );
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
    // With another pass of the kind chosen the operation would shape that one.
    useSelection.getState().setLayer(BASE);
    useWork.getState().open(kind.madeBy);
  }
}

function BaseRow({ chosen }: { chosen: boolean }) {
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
