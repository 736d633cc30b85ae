import { sayError } from "@kneader/core";
import { App as AntApp, Button, Modal } from "antd";
import { useShared } from "../storage/sharedShelf.ts";
import { ActionPicture } from "./ActionPicture.tsx";
import { sayAbout } from "./findCards.ts";
import { pantryChanged } from "./useActions.ts";

/** Two changed one action of the shared shelf: both are shown, and nothing is lost. */
export function SharedConflict() {
  const conflict = useShared((state) => state.conflict);
  const { message } = AntApp.useApp();
  if (!conflict) return null;
  const { mine, theirs } = conflict;
  const settle = (how: "both" | "mine" | "theirs") =>
    void conflict.settle(how).then(pantryChanged, (error: unknown) => message.error(sayError(error)));
  return (
    <Modal
      open
      title={`"${mine.card.name}" was changed by somebody else`}
      closable={false}
      footer={[
        <Button key="theirs" onClick={() => settle("theirs")}>
          Leave theirs
        </Button>,
        <Button key="mine" onClick={() => settle("mine")}>
          Put mine in its place
        </Button>,
        <Button key="both" type="primary" onClick={() => settle("both")}>
          Keep both
        </Button>,
      ]}
    >
      <div className="conflict">
        {[["Yours, not kept yet", mine] as const, ["What stands there now", theirs] as const].map(([title, action]) => (
          <figure key={title}>
            <ActionPicture action={action} />
            <figcaption>
              <b>{title}</b>
              <span>{action ? `${action.card.name}, ${sayAbout(action.card)}` : "It is gone or cannot be read"}</span>
              <span className="quiet">{action?.card.notes}</span>
            </figcaption>
          </figure>
        ))}
      </div>
    </Modal>
  );
}
