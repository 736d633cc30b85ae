import type { Action, ActionCard } from "@kneader/core";
import { framesPerSecond } from "@kneader/core";
import { useDraggable } from "@dnd-kit/core";
import { Users } from "lucide-react";
import { useEffect, useState } from "react";
import { useThumbnail } from "../bench/rack/poses/useThumbnail.ts";
import { CardPicture } from "./ActionPicture.tsx";
import { actionShot } from "./actionShot.ts";
import { sayAbout } from "./findCards.ts";
import { pantry } from "../storage/pantry.ts";
import { isShared } from "../storage/sharedShelf.ts";
import { useAction } from "./useActions.ts";

interface TileProps {
  card: ActionCard;
  chosen: boolean;
  /** Draws small, for the drawer. */
  small?: boolean;
  /** It is dragged onto folders. */
  draggable?: boolean;
  title?: string;
  onChoose(event: React.MouseEvent): void;
  onOpen?(): void;
  onPress?(at: { clientX: number; clientY: number }, action: Action): void;
}

/** An action in a grid: some moments of it, playing while the pointer is over it, its name, and what is in it. */
export function ActionTile({ card, chosen, small = false, draggable = false, title, onChoose, onOpen, onPress }: TileProps) {
  const [over, setOver] = useState(false);
  // Only one that is pointed at is taken down.
  const action = useAction(over || chosen ? card.id : null);
  const { setNodeRef, listeners, transform } = useDraggable({ id: card.id, disabled: !draggable });
  /** It may have to be taken down first; let go of before that, nothing is dragged. */
  const press = ({ button, clientX, clientY }: React.PointerEvent) => {
    if (button !== 0 || !onPress) return;
    const at = { clientX, clientY };
    if (action) {
      onPress(at, action);
      return;
    }
    let held = true;
    window.addEventListener("pointerup", () => (held = false), { once: true });
    void pantry.get(card.id).then((taken) => taken && held && onPress(at, taken));
  };
  return (
    <button
      type="button"
      ref={setNodeRef}
      style={
        transform
          ? { transform: `translate(${transform.x}px, ${transform.y}px)`, zIndex: 5, opacity: 0.8, pointerEvents: "none" }
          : undefined
      }
      className={`action-card ${chosen ? "chosen" : ""} ${small ? "small" : ""}`}
      aria-pressed={chosen}
      title={title}
      data-card={card.id}
      onClick={onChoose}
      onDoubleClick={onOpen}
      onPointerEnter={() => setOver(true)}
      onPointerLeave={() => setOver(false)}
      {...(draggable ? listeners : { onPointerDown: press })}
    >
      {over && action && action.clip.length > 0 ? <Moving action={action} /> : <CardPicture card={card} />}
      <span className="action-name">
        {isShared(card.id) && <Users size={12} aria-label="shared" />} {card.name}
      </span>
      <span className="quiet">{sayAbout(card)}</span>
    </button>
  );
}

/** So many pictures a second are drawn of an action that plays in its tile. */
const RATE = 10;

function Moving({ action }: { action: Action }) {
  const { length, rate } = action.clip;
  const [frame, setFrame] = useState(0);
  useEffect(() => {
    const step = Math.max(1, Math.round(framesPerSecond(rate) / RATE));
    const timer = setInterval(() => setFrame((now) => (now + step > length ? 0 : now + step)), 1000 / RATE);
    return () => clearInterval(timer);
  }, [length, rate]);
  const picture = useThumbnail(actionShot(action), frame, 300, 150, 0);
  return <span className="action-moving">{picture ? <img src={picture} alt="" draggable={false} /> : null}</span>;
}
