import localforage from "localforage";

const store = (name: string) => localforage.createInstance({ name: "kneader", storeName: name });

/** Small records of shots; they name the curves they need. */
export const shotStore = store("shots");
/** Curves as bytes, by `shotId/number`. */
export const curveStore = store("curves");
export const thumbnailStore = store("thumbnails");
export const actionStore = store("actions");
export const preferencesStore = store("preferences");
/** Records that could not be read, kept as they were found. */
export const asideStore = store("aside");
