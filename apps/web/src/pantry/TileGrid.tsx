import type { Action, ActionCard } from "@kneader/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useRef, useState } from "react";
import { ActionTile } from "./ActionTile.tsx";

interface GridProps {
  cards: readonly ActionCard[];
  chosen: ReadonlySet<string>;
  small?: boolean;
  /** Tiles are dragged onto folders. */
  draggable?: boolean;
  titleOf?(card: ActionCard): string;
  onChoose(card: ActionCard, event: React.MouseEvent): void;
  onOpen(card: ActionCard): void;
  onPress?(at: { clientX: number; clientY: number }, action: Action): void;
  onRemove?(): void;
}

/** Least width of a tile, and the height of a row of them, in pixels. */
const sizes = { large: { width: 208, height: 178 }, small: { width: 130, height: 132 } } as const;

/** Tiles in rows, of which only those in sight are there: thousands are as quick as ten. Arrows walk through them. */
export function TileGrid({ cards, chosen, small = false, draggable = false, titleOf, onChoose, onOpen, onPress, onRemove }: GridProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const [columns, setColumns] = useState(3);
  const { width, height } = sizes[small ? "small" : "large"];
  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setColumns(Math.max(1, Math.floor((element.clientWidth + 8) / (width + 8)))));
    watch.observe(element);
    return () => watch.disconnect();
  }, [width]);
  const rows = Math.ceil(cards.length / columns);
  const list = useVirtualizer({ count: rows, getScrollElement: () => scroller.current, estimateSize: () => height, overscan: 2 });
  const walk = (event: React.KeyboardEvent) => {
    const id = (event.target as HTMLElement).dataset.card;
    const at = cards.findIndex((card) => card.id === id);
    if (at < 0) return;
    if (event.key === "Enter" && !(event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      event.stopPropagation();
      onOpen(cards[at]);
      return;
    }
    if (event.key === "Delete" && onRemove) {
      event.stopPropagation();
      onRemove();
      return;
    }
    const by = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: columns, ArrowUp: -columns }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const next = Math.min(cards.length - 1, Math.max(0, at + by));
    list.scrollToIndex(Math.floor(next / columns));
    onChoose(cards[next], event as unknown as React.MouseEvent);
    requestAnimationFrame(() => scroller.current?.querySelector<HTMLElement>(`[data-card="${CSS.escape(cards[next].id)}"]`)?.focus());
  };
  return (
    <div className="tile-scroller" ref={scroller} role="group" aria-label="Actions" onKeyDown={walk}>
      <div style={{ height: list.getTotalSize(), position: "relative" }}>
        {list.getVirtualItems().map((row) => (
          <div
            key={row.key}
            className="tile-row"
            style={{ transform: `translateY(${row.start}px)`, height, gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
          >
            {cards.slice(row.index * columns, (row.index + 1) * columns).map((card) => (
              <ActionTile
                key={card.id}
                card={card}
                small={small}
                draggable={draggable}
                chosen={chosen.has(card.id)}
                title={titleOf?.(card)}
                onChoose={(event) => onChoose(card, event)}
                onOpen={() => onOpen(card)}
                onPress={onPress}
              />
            ))}
          </div>
        ))}
      </div>
    </div>
  );
}
