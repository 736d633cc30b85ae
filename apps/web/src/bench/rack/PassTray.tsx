import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { activePasses, BASE, constantCurve, countKeys, makePass, type Pass, type PassKind, passKind, passKinds } from "@kneader/core";
import { Button, Dropdown, Tooltip } from "antd";
import { CirclePower, EyeOff, Plus, SlidersHorizontal, Spotlight, Trash2 } from "lucide-react";
import { useMemo, useState } from "react";
import { addPass, changePass, movePass, removePass } from "../edits.ts";
import { useReadOnly, useShownPart } from "../documents.ts";
import { NumberField } from "../NumberField.tsx";
import { useSelection } from "../selection.ts";
import { useWork } from "../work/workStore.ts";
import { isLong, useSettled } from "../useSettled.ts";
import { PassBand } from "./PassBand.tsx";
import { TrayRow } from "./TrayRow.tsx";

/** The stack: one band a pass, topmost first, base motion at the bottom. */
export function PassTray() {
  const stack = useShownPart((shot) => shot.passes);
  const layer = useSelection((state) => state.layer);
  const readOnly = useReadOnly();
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const passes = [...stack].reverse();
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
            <Dropdown
              disabled={readOnly}
              trigger={["click"]}
              menu={{
                items: passKinds.map((kind) => ({ key: kind.id, label: kindLabel(kind), title: kind.help })),
                onClick: ({ key }) => makeOf(key),
              }}
            >
              <Button
                type="text"
                size="small"
                aria-label="Add a pass"
                title="Add a pass (A adds an adding one)"
                icon={<Plus size={16} />}
              />
            </Dropdown>
          </>
        }
      >
        <span className="quiet stack-note">Added up from the bottom</span>
      </TrayRow>
      <div className="pass-rows">
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={reorder}>
          <SortableContext items={passes.map((pass) => pass.id)} strategy={verticalListSortingStrategy}>
            {passes.map((pass) => (
              <PassRow key={pass.id} pass={pass} chosen={pass.id === layer} plays={playing.has(pass.id)} />
            ))}
          </SortableContext>
        </DndContext>
        <BaseRow chosen={layer === BASE} />
      </div>
    </div>
  );
}

function PassRow({ pass, chosen, plays }: { pass: Pass; chosen: boolean; plays: boolean }) {
  const readOnly = useReadOnly();
  const { listeners, setNodeRef, transform } = useSortable({ id: pass.id, disabled: readOnly });
  const [naming, setNaming] = useState(false);
  const weight = Math.round(pass.weight.values[0] * 100);
  const keyed = pass.weight.times.length > 1;
  const choose = () => useSelection.getState().setLayer(pass.id);
  const setWeight = (percent: number) =>
    changePass(pass.id, `${pass.name} at ${Math.round(percent)} %`, (p) => ({ ...p, weight: constantCurve(percent / 100) }));
  const rename = (name: string) => {
    setNaming(false);
    if (name.trim() && name.trim() !== pass.name) changePass(pass.id, `Rename to ${name.trim()}`, (p) => ({ ...p, name: name.trim() }));
  };
  return (
    <div ref={setNodeRef} style={transform ? { transform: `translateY(${transform.y}px)`, zIndex: 3, position: "relative" } : undefined}>
      <TrayRow
        name={pass.name}
        className={`pass-row ${chosen ? "chosen" : ""} ${plays ? "" : "silent"}`}
        gutter={
          <>
            {naming ? (
              <input
                className="pass-name"
                aria-label="Name of the pass"
                autoFocus
                defaultValue={pass.name}
                onBlur={(event) => rename(event.target.value)}
                onKeyDown={(event) => {
                  event.stopPropagation();
                  if (event.key === "Enter") rename(event.currentTarget.value);
                  if (event.key === "Escape") setNaming(false);
                }}
              />
            ) : (
              <button
                type="button"
                className="pass-name"
                aria-pressed={chosen}
                title={`${pass.name}: ${passKind(pass.kind)?.help ?? ""} ${countKeys(pass.curves)} keys. Double-click renames; drag, or Alt and an arrow, moves it in the stack.`}
                onClick={choose}
                onDoubleClick={() => setNaming(true)}
                onKeyDown={(event) => {
                  if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
                  event.preventDefault();
                  movePass(pass.id, event.key === "ArrowUp" ? 1 : -1);
                }}
                {...listeners}
              >
                {pass.name}
              </button>
            )}
            <Tooltip title={pass.on ? "Switch this pass off" : "Switch this pass on"}>
              <button
                type="button"
                className={`tool ${pass.on ? "" : "lit"}`}
                aria-label={`${pass.name} on`}
                aria-pressed={pass.on}
                disabled={readOnly}
                onClick={() => changePass(pass.id, `${pass.name} ${pass.on ? "off" : "on"}`, (p) => ({ ...p, on: !p.on }))}
              >
                {pass.on ? <CirclePower size={13} /> : <EyeOff size={13} />}
              </button>
            </Tooltip>
            <Tooltip title="Play only this pass over base motion">
              <button
                type="button"
                className={`tool ${pass.solo ? "lit" : ""}`}
                aria-label={`${pass.name} alone`}
                aria-pressed={pass.solo}
                disabled={readOnly}
                onClick={() =>
                  changePass(pass.id, `${pass.name} ${pass.solo ? "with the others" : "alone"}`, (p) => ({ ...p, solo: !p.solo }))
                }
              >
                <Spotlight size={13} />
              </button>
            </Tooltip>
            <NumberField
              className="weight"
              label={`Weight of ${pass.name}, percent`}
              title={keyed ? "Keyed; typing a number makes it constant" : "Weight in percent; may go past 100"}
              decimals={0}
              value={weight}
              min={-400}
              max={400}
              disabled={readOnly}
              onCommit={setWeight}
            />
          </>
        }
      >
        <PassBand pass={pass} chosen={chosen} onChoose={choose} onWeight={setWeight} />
        {passKind(pass.kind)?.reads === "time" && (
          <Tooltip title="Its settings, in the work card">
            <button
              type="button"
              className="tool remove settings-tool"
              aria-label={`Settings of ${pass.name}`}
              disabled={readOnly}
              onClick={() => openSettings(pass)}
            >
              <SlidersHorizontal size={13} />
            </button>
          </Tooltip>
        )}
        <Tooltip title="Remove the pass; the shot is as if it had never been">
          <button
            type="button"
            className="tool remove"
            aria-label={`Remove ${pass.name}`}
            disabled={readOnly}
            onClick={() => removePass(pass.id)}
          >
            <Trash2 size={13} />
          </button>
        </Tooltip>
      </TrayRow>
    </div>
  );
}

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

/** The work card with the settings a computed pass has now. */
function openSettings(pass: Pass): void {
  const kind = passKind(pass.kind);
  if (kind?.reads !== "time") return;
  useSelection.getState().setLayer(pass.id);
  useWork.getState().open(kind.madeBy);
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
