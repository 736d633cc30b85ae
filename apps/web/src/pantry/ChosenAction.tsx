import { type Action, type ActionCard, fitClip, operations, sayError, writeAction } from "@kneader/core";
import { App as AntApp, Button, Dropdown, Input, Popconfirm, Select, Tag } from "antd";
import { Download, History, Trash2 } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { clock } from "../bench/clock.ts";
import { currentDocument, useDocuments } from "../bench/documents.ts";
import { TakePose } from "../bench/drawer/TakePose.tsx";
import { openThere } from "../bench/work/workStore.ts";
import { download } from "../export/download.ts";
import { pantry } from "../storage/pantry.ts";
import { ActionPlayer } from "./ActionPlayer.tsx";
import { sayAbout } from "./findCards.ts";
import { saveGltf, throwAway } from "./pantryDeeds.ts";
import { GoneMeanwhile } from "./GoneMeanwhile.tsx";
import { pantryChanged, useAction, useCards, useEarlier } from "./useActions.ts";
import { useWriting } from "./writing.ts";

/** The action at hand: played, labelled, matched with the open shot, laid. */
export function ChosenAction({ id }: { id: string }) {
  const found = useAction(id);
  const writing = useWriting((state) => state.action);
  const cards = useCards();
  const action = found ?? (writing?.card.id === id ? writing : null);
  const isGone = cards !== undefined && !cards.some((card) => card.id === id);
  return action ? <Details action={action} isGone={isGone} /> : null;
}

function Details({ action, isGone }: { action: Action; isGone: boolean }) {
  const { card } = action;
  const text = useRef<HTMLDivElement>(null);
  // As they stand in the fields, whether they were left or not.
  const written = () => {
    const value = (label: string) => text.current?.querySelector<HTMLInputElement>(`[aria-label="${label}"]`)?.value ?? "";
    return { name: value("Name"), notes: value("Notes") };
  };
  const { message } = AntApp.useApp();
  const isOpen = useDocuments((state) => state.current !== null);
  const [frame, setFrame] = useState(0);
  useLeaving(isGone);
  const name = useSeen(action, isGone);
  const notes = useSeen(action, isGone);
  const relabel = (change: Partial<ActionCard>, seen = card) =>
    void pantry.relabel({ ...seen, ...change }, seen).then(pantryChanged, (error: unknown) => message.error(sayError(error)));
  return (
    <aside className="panel pantry-details" aria-label={card.name}>
      <ActionPlayer action={action} onFrame={setFrame} />
      <div className="details-text" ref={text}>
        {isGone && <GoneMeanwhile action={action} written={written} />}
        <Input
          key={name.seen.name}
          className="details-name"
          variant="borderless"
          aria-label="Name"
          defaultValue={name.seen.name}
          onPressEnter={(event) => event.currentTarget.blur()}
          onFocus={name.begin}
          onBlur={(event) => {
            const given = event.currentTarget.value.trim();
            if (given && given !== name.seen.name && !isGone) relabel({ name: given }, name.seen);
            name.end();
          }}
        />
        <p className="quiet">
          {sayAbout(card)} · {card.folder}
        </p>
        <Input.TextArea
          key={notes.seen.notes}
          aria-label="Notes"
          placeholder="Notes"
          variant="borderless"
          autoSize
          defaultValue={notes.seen.notes}
          onFocus={notes.begin}
          onBlur={(event) => {
            const given = event.currentTarget.value;
            if (given !== notes.seen.notes && !isGone) relabel({ notes: given }, notes.seen);
            notes.end();
          }}
        />
        <Select
          mode="tags"
          size="small"
          aria-label="Tags"
          placeholder="Tags"
          value={[...card.tags]}
          onChange={(tags: string[]) => relabel({ tags: tags.map((tag) => tag.trim()).filter(Boolean) })}
        />
        <Matching action={action} />
        {isOpen && <TakePose action={action} frame={frame} />}
        <Tools action={action} />
      </div>
    </aside>
  );
}

/** The card as it stood when a field of it was begun: what others change meanwhile, or throw away, takes nothing from what is being typed. */
function useSeen(action: Action, isGone: boolean) {
  const [begun, setBegun] = useState<ActionCard | null>(null);
  return {
    seen: begun ?? action.card,
    begin() {
      setBegun(action.card);
      useWriting.setState({ action });
    },
    end() {
      // What is gone stays until it is said what becomes of it.
      if (isGone) return;
      setBegun(null);
      useWriting.setState({ action: null });
    },
  };
}

/** Whoever leaves the page in the middle of a word is not writing any more, unless it still has to be said what becomes of it. */
function useLeaving(isGone: boolean): void {
  const waits = useRef(isGone);
  waits.current = isGone;
  useEffect(
    () => () => {
      if (!waits.current) useWriting.setState({ action: null });
    },
    [],
  );
}

/** How it fits the open shot, and the way to the card that lays it there. */
function Matching({ action }: { action: Action }) {
  const shot = useDocuments((state) => (state.current ? currentDocument() : null));
  const navigate = useNavigate();
  const fitted = useMemo(() => (shot ? fitClip(action.clip, shot.rig) : null), [action, shot]);
  if (!shot || !fitted) return <p className="quiet">Open a shot on the bench to lay this on it.</p>;
  const total = Object.keys(action.clip.curves).length;
  const placed = total - fitted.unmatched.length;
  const lay = () => {
    openThere(operations.layAction.id, { action, at: clock.frame, carry: action.clip.length > 0 });
    navigate(`/shots/${shot.id}`);
  };
  return (
    <>
      <h3>
        Fits {shot.name}{" "}
        <Tag color={placed === total ? "green" : "gold"}>
          {placed} of {total}
        </Tag>
      </h3>
      <div className="match-bar">
        <i style={{ width: `${(placed / total) * 100}%` }} />
      </div>
      {fitted.unmatched.length > 0 && (
        <p className="quiet">
          Without a place: {fitted.unmatched.slice(0, 4).join(", ")}
          {fitted.unmatched.length > 4 ? ` and ${fitted.unmatched.length - 4} more` : ""}
        </p>
      )}
      <Button type="primary" size="large" block onClick={lay}>
        Lay it on {shot.name} …
      </Button>
    </>
  );
}

function Tools({ action }: { action: Action }) {
  const { card } = action;
  const { message } = AntApp.useApp();
  const earlier = useEarlier(card.id) ?? [];
  const asGltf = async () => {
    try {
      for (const note of await saveGltf(action)) message.info(note);
    } catch (error) {
      message.error(sayError(error));
    }
  };
  const bringBack = async (n: number) => {
    await pantry.put({ ...earlier[n], card: { ...earlier[n].card, id: card.id } });
    await pantryChanged();
    message.success(`"${card.name}" is as it was; the state before that is kept as well.`);
  };
  return (
    <div className="details-tools">
      <Button size="small" icon={<Download size={14} />} onClick={() => download(writeAction(action), `${card.name}.json`)}>
        Save as file
      </Button>
      <Button size="small" title="Its figure's bones, moving, for other programs" onClick={() => void asGltf()}>
        glTF
      </Button>
      {earlier.length > 0 && (
        <Dropdown
          trigger={["click"]}
          menu={{
            items: earlier.map(({ card: { savedAt } }, n) => ({ key: String(n), label: `As saved ${new Date(savedAt).toLocaleString()}` })),
            onClick: ({ key }) => void bringBack(Number(key)).catch((error: unknown) => message.error(sayError(error))),
          }}
        >
          <Button size="small" icon={<History size={14} />}>
            Earlier
          </Button>
        </Dropdown>
      )}
      <Popconfirm title={`Throw "${card.name}" away?`} okText="Throw away" onConfirm={() => throwAway([card])}>
        <Button size="small" icon={<Trash2 size={14} />}>
          Throw away
        </Button>
      </Popconfirm>
    </div>
  );
}
