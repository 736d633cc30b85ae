import { type Action, freshId, sayError } from "@kneader/core";
import { Alert, App as AntApp, Button } from "antd";
import { pantry } from "../storage/pantry.ts";
import { isShared, useShared } from "../storage/sharedShelf.ts";
import { pantryChanged } from "./useActions.ts";
import { useWriting } from "./writing.ts";

/** Where it is kept when it may not go back to where it was. */
const OWN = "My actions";

/** Somebody else has thrown an action away while something was written in its card: it is kept as a new one, or let go. */
export function GoneMeanwhile({ action, written }: { action: Action; written(): { name: string; notes: string } }) {
  const { message } = AntApp.useApp();
  const { card, clip } = action;
  const unlocked = useShared(({ unlocked, shelf }) => unlocked && shelf !== null);
  const folder = isShared(card.id) && !unlocked ? OWN : card.folder;
  const letGo = () => useWriting.setState({ action: null });
  const keep = async () => {
    try {
      const { name, notes } = written();
      await pantry.put({
        card: { ...card, name: name.trim() || card.name, notes, id: freshId("action"), folder, savedAt: Date.now() },
        clip,
      });
      letGo();
      await pantryChanged();
      message.success(`"${name}" is in ${folder}.`);
    } catch (error) {
      message.error(sayError(error));
    }
  };
  return (
    <Alert
      type="warning"
      title={`"${card.name}" was thrown away by somebody else while you wrote.`}
      description={
        <span className="gone-choices">
          <Button size="small" type="primary" title={`In ${folder}, with what is written here`} onClick={() => void keep()}>
            Keep mine as new
          </Button>
          <Button size="small" onClick={letGo}>
            Let go
          </Button>
        </span>
      }
    />
  );
}
