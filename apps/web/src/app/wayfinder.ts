import type { NavigateFunction } from "react-router";

let navigate: NavigateFunction | null = null;

/** The router tells here how to go to a page, so that commands can. */
export function showTheWay(way: NavigateFunction): void {
  navigate = way;
}

export function goTo(page: string): void {
  void navigate?.(page);
}
