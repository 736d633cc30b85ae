import { type Action, type ActionCard, KneaderError, readAction, relabelled, writeAction } from "@kneader/core";
import { create } from "zustand";

/** The folder under which the shared shelf stands among those of this browser. */
export const SHARED = "Shared shelf";
const PREFIX = "shared:";

export const isShared = (id: string): boolean => id.startsWith(PREFIX);
export const isSharedFolder = (folder: string): boolean => folder === SHARED || folder.startsWith(`${SHARED}/`);

/** An action or a recipe as the server lists it. */
export interface Listed {
  readonly id: string;
  readonly etag: string;
  readonly card: ActionCard;
  readonly broken: string | null;
}

/** What two made of one action: what was to be kept, and what stands there now. */
interface Conflict {
  readonly mine: Action;
  readonly theirs: Action | null;
  /** The state that stands there now. */
  readonly etag: string;
  /** Ours is still to be put there in some way. */
  settle(how: "both" | "mine" | "theirs"): Promise<void>;
}

interface SharedState {
  /** Null while there is no server that shares one. */
  readonly shelf: {
    readonly readers: string;
    readonly readOnly: boolean;
    readonly actions: readonly Listed[];
    readonly recipes: readonly Listed[];
  } | null;
  /** It is there, and a token is asked for. */
  readonly needsToken: boolean;
  readonly unlocked: boolean;
  readonly conflict: Conflict | null;
}

/** The shared shelf as it was last seen. It is locked until somebody unlocks it here. */
export const useShared = create<SharedState>(() => ({ shelf: null, needsToken: false, unlocked: false, conflict: null }));

const ADDRESS = "/api/shelf";
/** A server that says nothing for so long (milliseconds) is taken for none. */
const PATIENCE = 5000;
const TOKEN = "kneader-shelf-token";
let seen: string | null = null;

/** Keep the token for this tab. */
export function giveToken(token: string): void {
  sessionStorage.setItem(TOKEN, token.trim());
  seen = null;
}

export async function askShared(path: string, init: RequestInit = {}): Promise<Response> {
  const token = sessionStorage.getItem(TOKEN);
  const headers = new Headers(init.headers);
  if (token) headers.set("authorization", `Bearer ${token}`);
  if (init.method && init.method !== "GET") {
    if (!useShared.getState().unlocked)
      throw new KneaderError("locked", "The shared shelf is locked.", "Unlock it in the pantry, at its folder.");
    headers.set("x-kneader-shelf", "unlocked");
    headers.set("content-type", "application/json");
  }
  return fetch(`${ADDRESS}${path}`, { ...init, headers });
}

/** What went wrong, in the server's words. */
export async function problemOf(answer: Response): Promise<Error> {
  const { detail } = ((await answer.json().catch(() => null)) ?? {}) as { detail?: string };
  return new Error(`Shared shelf: ${detail ?? `the server answers ${answer.status}.`}`);
}

/** Look again at what stands there; answers whether anything is another than before. */
export async function lookAtShared(): Promise<boolean> {
  let answer: Response;
  try {
    answer = await askShared("", { signal: AbortSignal.timeout(PATIENCE), ...(seen ? { headers: { "if-none-match": seen } } : {}) });
  } catch {
    // Without the server everything goes on from this browser's own shelf.
    const was = useShared.getState().shelf;
    seen = null;
    if (was) useShared.setState({ shelf: null });
    return was !== null;
  }
  if (answer.status === 304) return false;
  if (answer.status === 401) {
    useShared.setState({ shelf: null, needsToken: true });
    return false;
  }
  const isShelf = answer.ok && answer.headers.get("content-type")?.includes("json");
  if (!isShelf) {
    // Asked too quickly, what was seen before still holds.
    if (answer.status !== 429 && useShared.getState().shelf) useShared.setState({ shelf: null });
    return false;
  }
  seen = answer.headers.get("etag");
  useShared.setState({ shelf: await answer.json(), needsToken: false });
  return true;
}

const folderHere = ({ folder }: ActionCard) => `${SHARED}/${folder}`;
/** The folder as the server calls it. */
const folderThere = (folder: string) => folder.slice(SHARED.length + 1) || "Shared";

/** Cards of the shared shelf as they stand among the others; those that are broken say so. */
export function sharedCards(): ActionCard[] {
  return (useShared.getState().shelf?.actions ?? []).map(({ id, card, broken }) => ({
    ...card,
    id: PREFIX + id,
    folder: folderHere(card),
    ...(broken ? { notes: `Cannot be read: ${broken}`, tags: ["broken"] } : {}),
  }));
}

const listedOf = (id: string) => useShared.getState().shelf?.actions.find((one) => PREFIX + one.id === id);

export async function getShared(id: string): Promise<Action | null> {
  const listed = listedOf(id);
  if (!listed || listed.broken) return null;
  const answer = await askShared(`/${listed.id}`);
  if (answer.status === 404) return null;
  if (!answer.ok) throw await problemOf(answer);
  const { clip } = readAction(new Uint8Array(await answer.arrayBuffer()));
  return { card: { ...listed.card, id, folder: folderHere(listed.card) }, clip };
}

const bodyOf = ({ card, clip }: Action): BodyInit => writeAction({ card: { ...card, folder: folderThere(card.folder) }, clip }) as BodyInit;

/** Put a new action on the shared shelf. */
export async function postShared(action: Action): Promise<void> {
  const answer = await askShared("", { method: "POST", body: bodyOf(action) });
  if (!answer.ok) throw await problemOf(answer);
  await lookAtShared();
}

/** Put an action in place of the one with its id; where that was changed meanwhile, both are shown. */
export async function putShared(action: Action): Promise<void> {
  const listed = listedOf(action.card.id);
  if (!listed) return postShared(action);
  await replace(action, listed.id, listed.etag);
}

/** Give an action of the shared shelf another card; where what was changed is not as it was `seen` any more, both are shown. */
export async function relabelShared(wanted: ActionCard, seen?: ActionCard): Promise<void> {
  const listed = listedOf(wanted.id);
  const action = await getShared(wanted.id);
  if (!listed || !action) throw new KneaderError("not-found", `"${wanted.name}" is not on the shared shelf any more, or cannot be read.`);
  const { card, clashes } = seen ? relabelled(action.card, wanted, seen) : { card: wanted, clashes: false };
  const mine = { card, clip: action.clip };
  await (clashes ? conflictOver(mine, listed.id, listed.etag) : replace(mine, listed.id, listed.etag));
}

async function replace(action: Action, id: string, etag: string): Promise<void> {
  const answer = await askShared(`/${id}`, { method: "PUT", headers: { "if-match": etag }, body: bodyOf(action) });
  if (answer.status === 412) return conflictOver(action, id, ((await answer.json()) as { etag: string }).etag);
  if (answer.status === 404) return postShared(action);
  if (!answer.ok) throw await problemOf(answer);
  await lookAtShared();
}

async function conflictOver(mine: Action, id: string, etag: string): Promise<void> {
  await lookAtShared();
  const theirs = await getShared(PREFIX + id).catch(() => null);
  useShared.setState({
    conflict: {
      mine,
      theirs,
      etag,
      async settle(how) {
        useShared.setState({ conflict: null });
        if (how === "both") await postShared({ ...mine, card: { ...mine.card, name: `${mine.card.name}, mine` } });
        if (how === "mine") await replace(mine, id, etag);
      },
    },
  });
}

export async function removeShared(id: string): Promise<void> {
  const listed = listedOf(id);
  if (!listed) return;
  const answer = await askShared(`/${listed.id}`, { method: "DELETE", headers: { "if-match": listed.etag } });
  if (answer.status === 412) {
    await lookAtShared();
    throw new Error(`"${listed.card.name}" was changed by somebody else just now, and is not thrown away. Look at it again.`);
  }
  if (!answer.ok && answer.status !== 404) throw await problemOf(answer);
  await lookAtShared();
}
