import type { Action, ActionCard } from "@kneader/core";
import { useEffect, useState } from "react";
import { drawPictureOf, knownPicture, pictureOf } from "./pictures.ts";

/** A few moments of an action side by side, known by its card; the action is taken down only when it is not drawn yet. */
export function CardPicture({ card }: { card: ActionCard }) {
  const [picture, setPicture] = useState<string | null>(knownPicture(card) ?? null);
  useEffect(() => {
    let wanted = true;
    void pictureOf(card, () => wanted).then((drawn) => wanted && setPicture(drawn));
    return () => {
      wanted = false;
    };
  }, [card]);
  return <Picture picture={picture} />;
}

/** The same of an action at hand. */
export function ActionPicture({ action }: { action: Action | null }) {
  const [picture, setPicture] = useState<string | null>(action ? (knownPicture(action.card) ?? null) : null);
  useEffect(() => {
    if (!action) return;
    let wanted = true;
    void drawPictureOf(action).then((drawn) => wanted && setPicture(drawn));
    return () => {
      wanted = false;
    };
  }, [action]);
  return <Picture picture={picture} />;
}

function Picture({ picture }: { picture: string | null }) {
  return picture ? <img src={picture} alt="" draggable={false} /> : <span className="picture-wait" />;
}
