/*
 * The figure comes first: what else is drawn of it, small and aside, waits until the view has shown it once. Opening a
 * second drawing context takes long on some machines.
 */

/** Where the view cannot open, nothing waits longer than this (milliseconds). */
const PATIENCE = 4000;
/** What stands around the view waits no longer than this. */
const TRAYS = 400;

/** A moment that comes once, and whoever waits for it. */
function moment(): { readonly come: Promise<void>; comes(): void } {
  let comes: () => void = () => undefined;
  const come = new Promise<void>((resolve) => {
    comes = resolve;
  });
  return { come, comes: () => comes() };
}

const begun = moment();
const shown = moment();
/** Comes with the view, or once it took too long; nothing is waited for where there is no view at all. */
let awaited: Promise<void> | null = null;

const atMost = (come: Promise<void>, patience: number): Promise<void> =>
  Promise.race([come, new Promise<void>((resolve) => setTimeout(resolve, patience))]);

/** A view opens on this page: it comes first. */
export function pictureAwaited(): void {
  awaited ??= atMost(shown.come, PATIENCE);
}

/** All there is to draw is with the graphics card, which is busy with it for a while. */
export const pictureBegun = (): void => begun.comes();

/** The view has been drawn. */
export const pictureShown = (): void => shown.comes();

/** Once the first view is being drawn: meanwhile the trays can be made. Or when that takes its time. */
export const afterPictureBegun = (): Promise<void> => atMost(begun.come, TRAYS);

/** Once the view has been drawn, or none seems to be coming. */
export const afterFirstPicture = (): Promise<void> => awaited ?? Promise.resolve();
