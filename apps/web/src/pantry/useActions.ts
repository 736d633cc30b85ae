import type { Action, ActionCard } from "@kneader/core";
import { useQuery } from "@tanstack/react-query";
import { queryClient } from "../app/queryClient.ts";
import { pantry } from "../storage/pantry.ts";

const CARDS = ["actions"];

const listed = { queryKey: CARDS, queryFn: () => pantry.list() };

/** The cards of the pantry; undefined until they are there. */
export function useCards(): readonly ActionCard[] | undefined {
  return useQuery(listed).data;
}

/** Begin to ask for the cards. */
export const askForCards = () => queryClient.prefetchQuery(listed);

/** One action, taken down when it is wanted; undefined until it is there, null when it is gone. */
export function useAction(id: string | null): Action | null | undefined {
  const queryFn = () => (id === null ? null : pantry.get(id));
  return useQuery({ queryKey: [...CARDS, id], queryFn, staleTime: Number.POSITIVE_INFINITY }).data;
}

/** The states an action had before others were saved over it, the latest first. */
export function useEarlier(id: string): readonly Action[] | undefined {
  return useQuery({ queryKey: [...CARDS, id, "earlier"], queryFn: () => pantry.earlier(id) }).data;
}

/** Something was kept or thrown away. */
export const pantryChanged = () => queryClient.invalidateQueries({ queryKey: CARDS });
