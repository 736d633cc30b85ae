import { type Carry, carrier, editKeys, type KeyMap } from "@kneader/core";
import { currentDocument, useDocuments } from "../../documents.ts";
import { mapPicked } from "../../edits.ts";
import { followPointer } from "../../followPointer.ts";
import { useSelection } from "../../selection.ts";
import { mappedPicks } from "./mappedPicks.ts";

/** With Alt later keys shift along, with Ctrl copies go and the keys stay. */
function carryOf(event: PointerEvent): Carry {
  return event.ctrlKey || event.metaKey ? "copy" : event.altKey ? "ripple" : "move";
}

/**
 * Drag the picked keys, live: they stay picked where they are shown, are committed as one step when let
 * go, and Esc puts all back. `mapOf` says where they go, or null while the drag has not begun.
 */
export function followKeys(verb: "Move" | "Scale", mapOf: (event: PointerEvent) => KeyMap | null): void {
  const shot = currentDocument();
  const { keys, layer, pickKeys } = useSelection.getState();
  const { setPreview } = useDocuments.getState();
  if (!shot) return;
  let last: { map: KeyMap; carry: Carry } | null = null;
  const back = () => {
    setPreview(null);
    if (last) pickKeys(keys);
  };
  followPointer({
    move(event) {
      const map = mapOf(event);
      if (!map) return;
      const next = { map, carry: verb === "Move" ? carryOf(event) : "move" } as const;
      if (last && JSON.stringify(last) === JSON.stringify(next)) return;
      last = next;
      setPreview(editKeys(shot, layer, keys, carrier(map, next.carry)));
      pickKeys(mappedPicks(keys, map));
    },
    done() {
      back();
      if (last) mapPicked(last.map, last.carry);
    },
    cancel: back,
  });
}
