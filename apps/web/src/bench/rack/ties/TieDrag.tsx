import { BASE, controlById, operations } from "@kneader/core";
import { Dropdown } from "antd";
import { useShownPart } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import { useWork } from "../../work/workStore.ts";
import { useTieDrag } from "./tieDrag.ts";

/** What a control that is dragged onto another may do with it; in each the dragged one is picked, the other is the target. */
const offered = [
  { operation: operations.switchSpace, label: "lives in it from here", setting: "space" },
  { operation: operations.followTarget, label: "follows it", setting: "target" },
  { operation: operations.aimAt, label: "aims at it", setting: "target" },
  { operation: operations.reachFor, label: "reaches for it", setting: "target" },
] as const;

/** The line from a control that is dragged onto another, and what is offered when it is let go there. */
export function TieDrag() {
  const { dragged, dropped } = useTieDrag();
  const rig = useShownPart((shot) => shot.rig);
  const nameOf = (id: string) => controlById(rig, id)?.name ?? id;
  const close = () => useTieDrag.setState({ dropped: null });
  return (
    <>
      {dragged && (
        <div className="tie-drag" aria-hidden>
          <svg>
            <line className="edge" x1={dragged.start[0]} y1={dragged.start[1]} x2={dragged.at[0]} y2={dragged.at[1]} />
            <line x1={dragged.start[0]} y1={dragged.start[1]} x2={dragged.at[0]} y2={dragged.at[1]} />
          </svg>
          <span style={{ left: dragged.at[0] + 12, top: dragged.at[1] + 12 }}>
            {nameOf(dragged.from)} → {dragged.over ? nameOf(dragged.over) : "onto another control"}
          </span>
        </div>
      )}
      <Dropdown
        open={dropped !== null}
        trigger={["click"]}
        onOpenChange={(isOpen) => !isOpen && close()}
        menu={{
          autoFocus: true,
          items: dropped ? offered.map(({ operation, label }) => ({ key: operation.id, label: `${nameOf(dropped.from)} ${label} …` })) : [],
          onClick: ({ key }) => {
            const chosen = offered.find(({ operation }) => operation.id === key);
            if (!dropped || !chosen) return;
            useSelection.getState().pickControls([dropped.from]);
            // With the row of a constraint chosen the operation would tell that one anew.
            useSelection.getState().setLayer(BASE);
            useWork.getState().open(chosen.operation.id, { [chosen.setting]: dropped.to });
            close();
          },
        }}
      >
        <span className="pass-menu-anchor" style={{ left: dropped?.at[0] ?? 0, top: dropped?.at[1] ?? 0 }} />
      </Dropdown>
    </>
  );
}
