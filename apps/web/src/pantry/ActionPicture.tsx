import type { Action } from "@kneader/core";
import { useEffect, useState } from "react";
import { actionShot } from "./actionShot.ts";

/** A few moments of an action side by side. */
export function ActionPicture({ action }: { action: Action | null | undefined }) {
  const [picture, setPicture] = useState<string | null>(null);
  useEffect(() => {
    if (!action) return;
    let wanted = true;
    const timer = setTimeout(async () => {
      const { drawStrip } = await import("../bench/view/strip.ts");
      const drawn = await drawStrip(actionShot(action), 300, 110, action.clip.length > 0 ? 4 : 1);
      if (wanted) setPicture(drawn);
    }, 0);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [action]);
  return picture ? <img src={picture} alt="" draggable={false} /> : <span className="picture-wait" />;
}
