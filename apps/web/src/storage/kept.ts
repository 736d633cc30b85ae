import { ShotDoor } from "./shotDoor.ts";
import { ShotRecords } from "./shotRecords.ts";
import { asideStore, curveStore, shotStore, thumbnailStore } from "./stores.ts";

/** The shots kept in this browser. To be read by anyone; to be changed through the door. */
export const shotRecords = new ShotRecords({ shots: shotStore, curves: curveStore, aside: asideStore, thumbnails: thumbnailStore });
export const shotDoor = new ShotDoor(shotRecords, navigator.locks);
