import { createHash } from "node:crypto";
import { type Dirent, existsSync } from "node:fs";
import { lstat, mkdir, readdir, readFile, rename, rm, stat } from "node:fs/promises";
import { dirname, join, relative, sep } from "node:path";
import { type ActionCard, sayError } from "@kneader/core";
import { tidyBin } from "./bin.ts";
import { type Entry, readEntry } from "./entry.ts";
import { isTooDeep } from "./nesting.ts";
import { Problem } from "./problem.ts";
import { TEMPORARY, writeWhole } from "./writeWhole.ts";

/** An action or a recipe of the shelf as it is listed. */
export interface Listed {
  readonly id: string;
  readonly kind: Entry["kind"];
  /** Of the file's bytes. */
  readonly etag: string;
  readonly card: ActionCard;
  /** Why it cannot be read; null when it can. */
  readonly broken: string | null;
}

/** What was thrown away or overwritten lies here, and is never listed. */
const BIN = ".bin";
/** Limits of a shelf. */
const MOST_FILES = 20_000;
export const LARGEST = 8 * 1024 * 1024;
const DEEPEST = 8;

interface Known {
  readonly listed: Listed;
  readonly path: string;
  readonly stamp: string;
}

const etagOf = (bytes: Uint8Array) => `"${createHash("sha256").update(bytes).digest("base64url").slice(0, 32)}"`;
const idOf = (path: string) => createHash("sha256").update(path).digest("base64url").slice(0, 22);
/** A name of a file is at most so long (bytes): every system takes 255, and more is put before and after it. */
const LONGEST = 180;
/** A name as files may have it: no path, nothing hidden, of a length every system takes. */
const fileName = (name: string) => {
  const plain = name
    .replace(/[\\/:*?"<>|]|\p{Cc}/gu, "-")
    .replace(/^[.\s]+/, "")
    .trim();
  let cut = "";
  for (const letter of plain) {
    if (cut.length >= 80 || Buffer.byteLength(cut + letter) > LONGEST) break;
    cut += letter;
  }
  return cut.trim() || "action";
};

/**
 * Files of actions and recipes in a folder and the folders in it. What a client names are ids, never paths; files that are put there,
 * changed or broken by hand are found again. Changes go one after the other, each whole or not at all.
 */
export class ShelfFolder {
  readonly root: string;
  readonly readOnly: boolean;
  private known = new Map<string, Known>();
  private queue: Promise<unknown> = Promise.resolve();
  private scanned = 0;
  private scanning: Promise<void> | null = null;
  private isTaken = false;

  constructor(root: string, readOnly = false) {
    this.root = root;
    this.readOnly = readOnly;
  }

  /** Another server has taken the folder over: from now on nothing is changed from here. */
  giveUp(): void {
    this.isTaken = true;
  }

  /** What stands there now; looked through again when the last look is older than `age` milliseconds. */
  async list(age = 500): Promise<Listed[]> {
    if (Date.now() - this.scanned > age) await this.scan();
    return [...this.known.values()].map(({ listed }) => listed);
  }

  async read(id: string): Promise<{ bytes: Uint8Array; etag: string }> {
    const { path } = await this.find(id);
    const bytes = await readFile(join(this.root, path)).catch(() => {
      throw gone(id);
    });
    return { bytes, etag: etagOf(bytes) };
  }

  /** Put a new action or recipe there, under its name in its folder. */
  create(bytes: Uint8Array): Promise<Listed> {
    return this.change(async () => {
      const entry = readSent(bytes);
      if (this.known.size >= MOST_FILES) throw new Problem(507, "The shelf is full", `It holds ${MOST_FILES} files, and takes no more.`);
      return this.place(entry, await this.freePath(entry.card));
    });
  }

  /** Put an action or recipe in place of one, when that is still the one that was seen. */
  replace(id: string, bytes: Uint8Array, seen: string | undefined): Promise<Listed> {
    return this.change(async () => {
      const entry = readSent(bytes);
      const { path, etag } = await this.current(id, seen);
      const folder = pathOf(entry.card.folder);
      const stays = dirname(path) === (folder || ".") && fileName(entry.card.name) === fileNameOf(path);
      const to = stays ? path : await this.freePath(entry.card, path);
      await this.keepOld(path, etag);
      const listed = await this.place(entry, to);
      if (to !== path) {
        await rm(join(this.root, path), { force: true });
        this.known.delete(id);
      }
      return listed;
    });
  }

  /** Throw one away, into the bin. */
  remove(id: string, seen: string | undefined): Promise<void> {
    return this.change(async () => {
      const { path } = await this.current(id, seen);
      const to = join(this.root, BIN, `${Date.now()}-${fileNameOf(path)}.json`);
      await mkdir(dirname(to), { recursive: true });
      await rename(join(this.root, path), to);
      this.known.delete(id);
      await tidyBin(join(this.root, BIN));
    });
  }

  /** One change after the other. */
  private change<Value>(work: () => Promise<Value>): Promise<Value> {
    const turn = this.queue.then(async () => {
      if (this.readOnly)
        throw new Problem(
          403,
          "Only to look at",
          "This shelf is the example that ships. Start with --shelf and a folder of your own to change one.",
        );
      if (this.isTaken)
        throw new Problem(503, "Another server has the folder", "Nothing was changed: another server has taken the folder over.");
      await this.scan();
      try {
        return await work();
      } catch (error) {
        // On a full disk what was thrown away goes first.
        if ((error as NodeJS.ErrnoException).code !== "ENOSPC" || (await tidyBin(join(this.root, BIN), Date.now(), 0)) === 0) throw error;
        return work();
      }
    });
    this.queue = turn.catch(() => undefined);
    return turn;
  }

  private async find(id: string): Promise<Known> {
    const known = this.known.get(id);
    if (known) return known;
    await this.scan();
    const found = this.known.get(id);
    if (!found) throw gone(id);
    return found;
  }

  /** The file of an id, as it is on the disk now; refused when it is another than was seen. */
  private async current(id: string, seen: string | undefined): Promise<{ path: string; etag: string }> {
    const { path } = await this.find(id);
    const { etag } = await this.read(id);
    if (seen === undefined) throw new Problem(428, "Say which state you saw", "A change needs the ETag of what it changes, as If-Match.");
    if (seen !== etag) throw new Problem(412, "Changed meanwhile", "Somebody else has changed it since you saw it.", { etag });
    return { path, etag };
  }

  private async place({ kind, card: given, bytes: bytesWith }: Entry, path: string): Promise<Listed> {
    const id = idOf(path);
    const folder = dirname(path) === "." ? "" : dirname(path).split(sep).join("/");
    const card = { ...given, id, folder: folder || given.folder, savedAt: Date.now() };
    const bytes = bytesWith(card);
    await this.refuseLinks(path);
    await writeWhole(join(this.root, path), bytes);
    const listed: Listed = { id, kind, etag: etagOf(bytes), card, broken: null };
    this.known.set(id, { listed, path, stamp: await stampOf(join(this.root, path)) });
    return listed;
  }

  /** Nothing is written through a folder that is a link, which leads elsewhere. */
  private async refuseLinks(path: string): Promise<void> {
    const names = dirname(path).split(sep);
    for (let n = 1; n <= names.length; n++) {
      const found = await lstat(join(this.root, ...names.slice(0, n))).catch(() => null);
      if (found?.isSymbolicLink())
        throw new Problem(
          403,
          "The folder leads elsewhere",
          `Nothing was changed: "${names.slice(0, n).join("/")}" is a link to another place.`,
        );
    }
  }

  /** What is overwritten is kept in the bin. */
  private async keepOld(path: string, etag: string): Promise<void> {
    const bytes = await readFile(join(this.root, path));
    await writeWhole(join(this.root, BIN, `${Date.now()}-${etag.slice(1, 9)}-${fileNameOf(path)}.json`), bytes);
    await tidyBin(join(this.root, BIN));
  }

  private async freePath(card: ActionCard, own?: string): Promise<string> {
    const folder = pathOf(card.folder);
    for (let n = 1; ; n++) {
      const path = join(folder, `${fileName(card.name)}${n > 1 ? ` ${n}` : ""}.json`);
      if (path === own || !existsSync(join(this.root, path))) return path;
    }
  }

  private scan(): Promise<void> {
    this.scanning ??= this.look().finally(() => {
      this.scanning = null;
      this.scanned = Date.now();
    });
    return this.scanning;
  }

  private async look(): Promise<void> {
    await mkdir(this.root, { recursive: true });
    const paths = await this.filesIn("", 0);
    const next = new Map<string, Known>();
    // In lots, so that thousands of files do not wait for one another, nor all at once.
    for (let n = 0; n < paths.length; n += 64)
      await Promise.all(
        paths.slice(n, n + 64).map(async (path) => {
          const id = idOf(path);
          const stamp = await stampOf(join(this.root, path));
          const before = this.known.get(id);
          next.set(id, before && before.stamp === stamp ? before : { listed: await this.listed(id, path), path, stamp });
        }),
      );
    this.known = next;
  }

  private async filesIn(folder: string, depth: number): Promise<string[]> {
    if (depth > DEEPEST) return [];
    const entries: Dirent[] = await readdir(join(this.root, folder), { withFileTypes: true }).catch(() => []);
    const found: string[] = [];
    for (const entry of entries) {
      // Nothing hidden, and nothing that points elsewhere.
      if (entry.name.startsWith(".") || entry.name.startsWith(TEMPORARY) || entry.isSymbolicLink()) continue;
      const path = join(folder, entry.name);
      if (entry.isDirectory()) found.push(...(await this.filesIn(path, depth + 1)));
      else if (entry.isFile() && /\.json$/i.test(entry.name)) found.push(path);
      if (found.length >= MOST_FILES) break;
    }
    return found.slice(0, MOST_FILES);
  }

  private async listed(id: string, path: string): Promise<Listed> {
    const folder = dirname(path) === "." ? "Shared" : dirname(path).split(sep).join("/");
    const unread = (why: string, etag: string): Listed => ({
      id,
      kind: "action",
      etag,
      card: { id, name: fileNameOf(path), notes: "", tags: [], folder, savedAt: 0 },
      broken: why,
    });
    const whole = join(this.root, path);
    const { size } = await stat(whole).catch(() => ({ size: 0 }));
    if (size > LARGEST) return unread("The file is larger than what is here may be.", '"large"');
    const bytes = await readFile(whole).catch(() => new Uint8Array());
    try {
      const { kind, card } = readEntry(bytes);
      // Where it lies and what it is called there counts, whatever is written in it.
      return { id, kind, etag: etagOf(bytes), card: { ...card, id, folder }, broken: null };
    } catch (error) {
      return unread(sayError(error), etagOf(bytes));
    }
  }
}

const fileNameOf = (path: string) => (path.split(sep).at(-1) ?? "").replace(/\.json$/i, "");
const gone = (id: string) => new Problem(404, "Not on the shelf", `Nothing on the shelf has the id ${JSON.stringify(id.slice(0, 40))}.`);

/** Names of folders, one in the other; what would lead out of the shelf is a name like any other. */
function pathOf(folder: string): string {
  const names = folder.split("/").filter(Boolean).map(fileName).slice(0, DEEPEST);
  const path = join(...names, ".");
  return path === "." || relative(".", path).startsWith("..") ? "" : path;
}

async function stampOf(path: string): Promise<string> {
  const { mtimeMs, size, ino } = await stat(path).catch(() => ({ mtimeMs: 0, size: -1, ino: 0 }));
  return `${mtimeMs}/${size}/${ino}`;
}

function readSent(bytes: Uint8Array): Entry {
  if (isTooDeep(bytes)) throw new Problem(422, "Not an action and no recipe", "It is nested deeper than anything that is kept here.");
  try {
    return readEntry(bytes);
  } catch (error) {
    throw new Problem(422, "Not an action and no recipe", sayError(error));
  }
}
