/*
 * The figure comes first: what else is drawn of it, small and aside, waits until the view has shown it once. Opening a
 * second drawing context takes long on some machines.
 */

/** Where no view opens, nothing waits longer than this (milliseconds). */
const PATIENCE = 4000;

let show: () => void = () => undefined;
const shown = new Promise<void>((resolve) => {
  show = resolve;
});

/** The view has been drawn. */
export function pictureShown(): void {
  show();
}

/** Once the view has been drawn, or none seems to be coming. */
export function afterFirstPicture(): Promise<void> {
  return Promise.race([shown, new Promise<void>((resolve) => setTimeout(resolve, PATIENCE))]);
}
