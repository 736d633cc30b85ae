import { usePreferences } from "../../app/preferences.ts";
import { useSelection } from "../selection.ts";
import { useWork } from "./workStore.ts";

/** Show the list of operations, with its search field ready to be typed into. */
export function findOperation(): void {
  useWork.getState().close();
  useWork.setState({ listedFor: useSelection.getState().layer });
  usePreferences.getState().set({ welcomed: true });
  requestAnimationFrame(() => document.querySelector<HTMLInputElement>(".work-choice input")?.focus());
}
