import { Button, Input } from "antd";
import { Lock, LockOpen, Users } from "lucide-react";
import { useEffect } from "react";
import { giveToken, lookAtShared, useShared } from "../storage/sharedShelf.ts";
import { pantryChanged } from "./useActions.ts";

/** How often the shared shelf is looked at while the pantry is seen, in milliseconds. */
const OFTEN = 1500;

/** Looks at the shared shelf again and again, so that what others do is seen within two seconds. */
export function useSharedShelf(): void {
  useEffect(() => {
    let wanted = true;
    const look = async () => {
      if (document.visibilityState === "visible" && (await lookAtShared()) && wanted) await pantryChanged();
    };
    void look();
    const timer = setInterval(() => void look(), OFTEN);
    return () => {
      wanted = false;
      clearInterval(timer);
    };
  }, []);
}

/** Whether the shared shelf may be changed from here, and who reads it. */
export function SharedLock() {
  const { shelf, needsToken, unlocked } = useShared();
  if (needsToken)
    return (
      <Input.Password
        size="small"
        aria-label="Token of the shared shelf"
        placeholder="Token of the shared shelf"
        onPressEnter={(event) => {
          giveToken(event.currentTarget.value);
          void lookAtShared().then(pantryChanged);
        }}
      />
    );
  if (!shelf) return null;
  return (
    <div className="shared-lock">
      <span className="quiet">
        <Users size={13} aria-hidden />{" "}
        {shelf.readOnly ? "Shared shelf: an example, only to look at" : `Shared shelf: read by ${shelf.readers}`}
      </span>
      {!shelf.readOnly && (
        <Button
          size="small"
          icon={unlocked ? <LockOpen size={13} /> : <Lock size={13} />}
          aria-pressed={unlocked}
          title={unlocked ? "Lock it again, so that nothing is changed by mistake" : "Let changes be made; all who read the shelf see them"}
          onClick={() => useShared.setState({ unlocked: !unlocked })}
        >
          {unlocked ? "Unlocked" : "Locked"}
        </Button>
      )}
    </div>
  );
}
