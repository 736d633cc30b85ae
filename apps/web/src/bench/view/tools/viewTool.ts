import type { Camera, Object3D } from "three";

/** A press on something in the view, before it is known whether it becomes a drag. */
export interface Press {
  readonly object: Object3D;
  /** The control whose part was pressed, when it is the figure. */
  readonly control: string | null;
  /** The pressed place in the world. */
  readonly point: { readonly x: number; readonly y: number; readonly z: number };
  readonly camera: Camera;
  readonly canvas: HTMLElement;
  readonly start: PointerEvent;
  /** What was pressed is a place, not a part: it is moved and not turned. */
  readonly isPlace?: true;
  /** The pointer was let go. */
  ended(): void;
}

/** Something drawn into the view that may be taken hold of. A new one is a file like `arcTool.ts` and a place among the tools of the stage. */
export interface ViewTool {
  /** What it draws; the figure itself belongs to the stage. */
  readonly objects: readonly Object3D[];
  /** Does a press on this object, or on a part of the figure that moves with a control, take hold of it? */
  hit(object: Object3D, control: string | null): boolean;
  /** Follow the pointer from a press that hit until it is let go. */
  drag(press: Press): void;
  /** Let go of what was opened on the graphics card. */
  dispose(): void;
}
