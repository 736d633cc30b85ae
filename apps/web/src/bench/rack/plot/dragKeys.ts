import { type KeyMap, keyMapper } from "@kneader/core";
import { currentDocument, useDocuments } from "../../documents.ts";
import { editKeys, mapPicked } from "../../edits.ts";
import { followPointer } from "../../followPointer.ts";
import { useSelection } from "../../selection.ts";
import { mappedPicks } from "./mappedPicks.ts";

/**
 * Drag the picked keys, live: they stay picked where they are shown, are committed as one step when let
 * go, and Esc puts all back. `mapOf` says where they go, or null while the drag has not begun.
 */
export function followKeys(verb: "Move" | "Scale", mapOf: (event: PointerEvent) => KeyMap | null): void {
  const shot = currentDocument();
  const { keys, layer, pickKeys } = useSelection.getState();
  const { setPreview } = useDocuments.getState();
  if (!shot) return;
  let map: KeyMap | null = null;
  const back = () => {
    setPreview(null);
    if (map) pickKeys(keys);
  };
  followPointer({
    move(event) {
      const next = mapOf(event);
      if (!next || (map && JSON.stringify(map) === JSON.stringify(next))) return;
      map = next;
      setPreview(editKeys(shot, layer, keys, keyMapper(next)));
      pickKeys(mappedPicks(keys, next));
    },
    done() {
      back();
      if (map) mapPicked(verb, map);
    },
    cancel: back,
  });
}
