import { activeConstraints, BASE, operations } from "@kneader/core";
import { Button, Dropdown } from "antd";
import { Plus } from "lucide-react";
import { memo, useCallback, useState } from "react";
import { useReadOnly, useShownList, useShownPart } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { useWork } from "../../work/workStore.ts";
import { TrayRow } from "../TrayRow.tsx";
import { TieMenu, type TieMenuPlace } from "./TieMenu.tsx";
import { TieRow } from "./TieRow.tsx";
import "./ties.css";

/** What is offered where a constraint is added. */
const made = [
  operations.switchSpace,
  operations.plantEnds,
  operations.followTarget,
  operations.aimAt,
  operations.reachFor,
  operations.addCarrier,
] as const;

/** Constraints and the spaces controls live in: a row each; nothing but its head while there are none. */
export function TieTray({ slim }: { slim: boolean }) {
  const ids = useShownList((shot) => shot.constraints.map(({ id }) => id));
  const [menu, setMenu] = useState<TieMenuPlace | null>(null);
  const close = useCallback(() => setMenu(null), []);
  if (slim && ids.length === 0) return null;
  return (
    <div className="tie-tray" role="group" aria-label="Ties">
      <TrayRow
        name="Ties"
        className="pass-head"
        gutter={
          <>
            <b>Ties</b>
            <AddTie />
          </>
        }
      >
        <span className="quiet stack-note">
          {ids.length === 0 ? "What goes along with what: pick it, Shift-drag it onto another control" : "What goes along with what"}
        </span>
      </TrayRow>
      {ids.length > 0 && (
        <div className="tie-rows">
          {ids.map((id) => (
            <ListedTie key={id} id={id} onMenu={setMenu} />
          ))}
        </div>
      )}
      <TieMenu place={menu} onClose={close} />
    </div>
  );
}

/** A row that follows its constraint. */
function ListedTie({ id, onMenu }: { id: string; onMenu(place: TieMenuPlace): void }) {
  const tie = useShownPart((shot) => shot.constraints.find((one) => one.id === id));
  const plays = useShownPart((shot) => activeConstraints(shot).some((one) => one.id === id));
  const chosen = useSelection((state) => state.layer === id);
  return tie ? <TieRow tie={tie} chosen={chosen} plays={plays} onMenu={onMenu} /> : null;
}

const AddTie = memo(function AddTie() {
  const readOnly = useReadOnly();
  return (
    <Dropdown
      disabled={readOnly}
      trigger={["click"]}
      menu={{
        items: made.map(({ id, title, help }) => ({ key: id, label: `${title} …`, title: help })),
        onClick: ({ key }) => {
          // With the row of a constraint chosen the operation would tell that one anew.
          useSelection.getState().setLayer(BASE);
          useWork.getState().open(key);
        },
      }}
    >
      <Button type="text" size="small" aria-label="Add a tie" title="Tie controls to others" icon={<Plus size={16} />} />
    </Dropdown>
  );
});
