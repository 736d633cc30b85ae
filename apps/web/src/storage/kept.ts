import { ShotDoor } from "./shotDoor.ts";
import { ShotRecords } from "./shotRecords.ts";
import { Assets } from "./assets.ts";
import { asideStore, assetStore, curveStore, shotStore, thumbnailStore } from "./stores.ts";

/** The shots kept in this browser. To be read by anyone; to be changed through the door. */
export const shotRecords = new ShotRecords({ shots: shotStore, curves: curveStore, aside: asideStore, thumbnails: thumbnailStore });
/** Files that their characters came from. */
export const assets = new Assets(assetStore);
export const shotDoor = new ShotDoor(shotRecords, navigator.locks);
