/** Is a version of Node one on which everything runs? */
export function isKnownNode(version: string): boolean;
