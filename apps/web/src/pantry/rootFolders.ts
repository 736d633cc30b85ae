import { SHARED, useShared } from "../storage/sharedShelf.ts";

const NONE: readonly string[] = [];
const ROOT: readonly string[] = [SHARED];

/** Folders that are there though nothing is in them yet: the shared shelf, where there is one, so that it can be filled. */
export const useRootFolders = (): readonly string[] => useShared(({ shelf }) => (shelf && !shelf.readOnly ? ROOT : NONE));
