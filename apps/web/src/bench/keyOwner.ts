/*
 * Whose a pressed key is. Only fields for text, lists that stand open, and what was reached by Tab keep the
 * bench's keys for themselves; whatever was clicked lets go of them.
 */

/** A field in which one thing after another is typed and taken with Enter, such as tags. */
function isTagField(target: HTMLElement): boolean {
  return target.closest(".ant-select-multiple") !== null;
}

function isClosedChoice(target: HTMLElement): boolean {
  return target.role === "combobox" && target.getAttribute("aria-expanded") === "false" && !isTagField(target);
}

/** Does the key go into a field, or move a choice that has the focus? */
export function isTyped(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  if (!(target instanceof HTMLInputElement)) return target?.matches("textarea, select, [contenteditable]") ?? false;
  // A choice from a list takes letters only while the list is open; closed, it takes what opens it.
  // A field for words of one's own (tags, frames) is one to type into, list or not.
  if (isClosedChoice(target)) return event.code === "Space" || event.key === "Enter" || event.key.startsWith("Arrow");
  if (target.type === "radio" || target.type === "checkbox") return event.code === "Space" || event.key.startsWith("Arrow");
  return !(target.matches("input.number") && isBenchKey(event));
}

/** Is it a key that has no place in a number: a space or a letter? */
export function isBenchKey({ key, ctrlKey, metaKey, altKey }: Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "altKey">): boolean {
  return /^[a-z ]$/i.test(key) && !ctrlKey && !metaKey && !altKey;
}

/** Was what has the focus reached with the keyboard, so that keys of its own go to it? */
export function isReached({ currentTarget }: { readonly currentTarget: Element }): boolean {
  return currentTarget.matches(":focus-visible");
}

/** Keys that mean something of their own on a button that was reached by Tab. */
export function belongsToButton(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement | null;
  return (event.code === "Space" || event.key === "Enter") && target instanceof HTMLButtonElement && target.matches(":focus-visible");
}

/** A list, menu or dialog that stands open takes the keys itself; one that is only closing takes none any more. */
export function somethingIsOpen(): boolean {
  return (
    document.querySelector(
      ".ant-select-dropdown:not(.ant-select-dropdown-hidden, .ant-slide-up-leave), .ant-dropdown:not(.ant-dropdown-hidden, .ant-slide-up-leave)",
    ) !== null ||
    [...document.querySelectorAll<HTMLElement>(".ant-modal:not([class*=-leave])")].some((dialog) => dialog.offsetParent !== null)
  );
}

/** Is Enter, pressed somewhere in the work card, the card's own? A field of several lines wants Ctrl with it. */
export function isCardsEnter(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  if (event.isComposing || target.closest("[data-own-enter]")) return false;
  if (target instanceof HTMLTextAreaElement) return target.matches(".takes-enter") || event.ctrlKey || event.metaKey;
  if (target instanceof HTMLInputElement && isTagField(target) && target.value !== "") return false;
  return !(target instanceof HTMLButtonElement && target.role !== "switch" && belongsToButton(event));
}

let byKey = false;
let pressedInList = false;

/** Was the last thing done with the keyboard? */
export function isByKey(): boolean {
  return byKey;
}

/** Is the work going on in the list of channels: the focus is there, or the last press was? */
export function isInChannelList(): boolean {
  return pressedInList || document.activeElement?.closest(".channel-scroll") != null;
}

const keeps = ".ant-modal, .ant-drawer, .ant-popover, [role=menu]";

/** What was clicked is done; it must not go on taking keys. What was reached by Tab keeps them. */
function letGo(event: MouseEvent): void {
  if (event.detail === 0) return;
  const { activeElement } = document;
  if (!(activeElement instanceof HTMLElement) || activeElement.closest(keeps)) return;
  // A list is only closing when one of its choices was clicked.
  const chosen = event.target instanceof Element && event.target.closest(".ant-select-item-option") !== null && !isTagField(activeElement);
  const isChoice =
    activeElement instanceof HTMLInputElement &&
    (activeElement.type === "radio" || activeElement.type === "checkbox" || isClosedChoice(activeElement) || chosen);
  if (isChoice || activeElement instanceof HTMLButtonElement || activeElement.role === "slider" || activeElement.role === "switch")
    activeElement.blur();
}

/** Watch what is clicked and what is typed. Answers how to stop. */
export function watchKeys(): () => void {
  const pressed = (event: PointerEvent) => {
    byKey = false;
    pressedInList = event.target instanceof Element && event.target.closest(".channel-scroll") !== null;
  };
  const typed = () => {
    byKey = true;
  };
  const clicked = (event: MouseEvent) => {
    letGo(event);
    // A list that was just chosen from says that it is closed a moment later.
    setTimeout(() => letGo(event), 0);
  };
  window.addEventListener("pointerdown", pressed, true);
  window.addEventListener("keydown", typed, true);
  window.addEventListener("click", clicked);
  return () => {
    window.removeEventListener("pointerdown", pressed, true);
    window.removeEventListener("keydown", typed, true);
    window.removeEventListener("click", clicked);
  };
}
