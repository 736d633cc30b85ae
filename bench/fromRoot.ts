import { join } from "node:path";

/** The path of a file of the project. The bench is built elsewhere and is run from the project's folder. */
export const fromRoot = (path: string): string => join(process.cwd(), path);
