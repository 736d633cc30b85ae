import {
  checkPasses,
  commit,
  currentShot,
  goTo,
  type History,
  type Made,
  type Player,
  redo,
  sayError,
  type Shot,
  startHistory,
  undo,
} from "@kneader/core";
import { create } from "zustand";
import { differsInWeightOnly } from "./differsInWeightOnly.ts";
import { useShallow } from "zustand/react/shallow";

/** A shot open in this tab. Histories live as long as the tab, whichever page is shown. */
interface OpenShot {
  readonly history: History;
  /** Another tab has it; nothing may be changed here. */
  readonly readOnly: boolean;
}

/** What became of a change: it is a step of the history now, or why it is not. */
export type Answer = { readonly done: true } | { readonly done: false; readonly reason: string };

interface Documents {
  readonly open: Readonly<Record<string, OpenShot>>;
  /** The shot on the bench. */
  readonly current: string | null;
  /** Shown instead of the current shot while something is dragged or tried; never saved. */
  readonly preview: Shot | null;
  /** The figure as it is while it is pulled, ahead of any preview; a new object each time it has moved. */
  readonly live: { readonly player: Player } | null;
  add(shot: Shot, readOnly: boolean): void;
  /** Bring back the steps that led to the shot as it stands, if nothing was done since. */
  bringBack(id: string, history: History): void;
  setReadOnly(id: string, readOnly: boolean): void;
  show(id: string | null): void;
  setPreview(shot: Shot | null): void;
  setLive(player: Player | null): void;
  /** Make what an operation made the next step of the history, of the shot on the bench or of another open one. */
  change(name: string, shot: Shot, made: Made, id?: string): Answer;
  undo(): void;
  redo(): void;
  /** Go to a step, of the shot on the bench or of another open one. */
  goTo(step: number, id?: string): void;
  close(id: string): void;
}

export const useDocuments = create<Documents>((set, get) => {
  const turn = (move: (history: History) => History, id = get().current) => {
    const { open, current, preview } = get();
    const entry = id === null ? undefined : open[id];
    if (!entry || entry.readOnly) return;
    set({ open: { ...open, [id as string]: { ...entry, history: move(entry.history) } }, preview: id === current ? null : preview });
  };
  return {
    open: {},
    current: null,
    preview: null,
    live: null,
    add(shot, readOnly) {
      set({ open: { ...get().open, [shot.id]: { history: startHistory(shot, Date.now()), readOnly } } });
    },
    bringBack(id, history) {
      const entry = get().open[id];
      if (entry?.history.steps.length !== 1 || currentShot(entry.history) !== currentShot(history)) return;
      set({ open: { ...get().open, [id]: { ...entry, history } } });
    },
    setReadOnly(id, readOnly) {
      const entry = get().open[id];
      if (entry) set({ open: { ...get().open, [id]: { ...entry, readOnly } } });
    },
    show(id) {
      set({ current: id, preview: null });
    },
    setPreview(preview) {
      set({ preview });
    },
    setLive(player) {
      set({ live: player && { player } });
    },
    change(name, shot, made, id) {
      if (readOnlyIn({ ...get(), current: id ?? get().current })) return { done: false, reason: READ_ONLY };
      try {
        turn((history) => {
          const before = currentShot(history);
          if (shot === before) return history;
          return commit(history, { name, shot: checkPasses(before, shot), at: Date.now(), made });
        }, id);
        return { done: true };
      } catch (error) {
        set({ preview: null });
        return { done: false, reason: sayError(error) };
      }
    },
    undo: () => turn(undo),
    redo: () => turn(redo),
    goTo: (step, id) => turn((history) => goTo(history, step), id),
    close(id) {
      const { [id]: _, ...open } = get().open;
      set({ open });
    },
  };
});

const READ_ONLY = "This shot is open in another tab; here it cannot be changed.";

function readOnlyIn({ open, current }: Pick<Documents, "open" | "current">): boolean {
  return current !== null && (open[current]?.readOnly ?? false);
}

/** The shot on the bench, without preview. Only pages that have one call this. */
export function useShot(): Shot {
  return useDocuments((state) => shotOf(state) as Shot);
}

/** What is to be seen: the preview when there is one. */
export function useShown(): Shot {
  return useDocuments((state) => state.preview ?? (shotOf(state) as Shot));
}

/** A part of what is to be seen; the caller is drawn anew only when that part changes. */
export function useShownPart<Part>(part: (shot: Shot) => Part): Part {
  return useDocuments((state) => part(state.preview ?? (shotOf(state) as Shot)));
}

/** What is to be seen, for what shows keys and not how they play: a dragged weight draws it anew only once it is let go. */
export function useShownKeys(): Shot {
  return useDocuments((state) => {
    const shot = shotOf(state) as Shot;
    return state.preview && !differsInWeightOnly(state.preview, shot) ? state.preview : shot;
  });
}

/** A list read off what is to be seen; the same one as long as it has the same members. */
export function useShownList<Member>(list: (shot: Shot) => readonly Member[]): readonly Member[] {
  return useDocuments(useShallow((state) => list(state.preview ?? (shotOf(state) as Shot))));
}

export function useReadOnly(): boolean {
  return useDocuments(readOnlyIn);
}

function shotOf(state: Documents): Shot | null {
  const entry = state.current ? state.open[state.current] : undefined;
  return entry ? currentShot(entry.history) : null;
}

/** Outside React: the shot on the bench. */
export function currentDocument(): Shot | null {
  return shotOf(useDocuments.getState());
}

export function shownDocument(): Shot | null {
  const state = useDocuments.getState();
  return state.preview ?? shotOf(state);
}
