import { type ActionCard, countedWord, sayError } from "@kneader/core";
import { App as AntApp, AutoComplete, Button, Input, Popconfirm } from "antd";
import { Download, Trash2 } from "lucide-react";
import { useState } from "react";
import { folderLines } from "./findCards.ts";
import { moveCards, saveZip, tagCards, throwAway } from "./pantryDeeds.ts";
import { useCards } from "./useActions.ts";

/** What can be done with several actions at once. */
export function ChosenMany({ cards, onDone }: { cards: readonly ActionCard[]; onDone(): void }) {
  const { message } = AntApp.useApp();
  const [folder, setFolder] = useState("");
  const [tag, setTag] = useState("");
  const all = useCards() ?? [];
  const tell = (work: Promise<unknown>, after?: () => void) =>
    void work.then(after, (error: unknown) => {
      message.error(sayError(error));
    });
  return (
    <aside className="panel pantry-details" aria-label="Picked actions">
      <div className="details-text">
        <h2>{countedWord(cards.length, "action")} picked</h2>
        <p className="quiet">{cards.map(({ name }) => name).join(", ")}</p>
        <AutoComplete
          aria-label="Folder to move to"
          placeholder="Move to folder (press Enter)"
          value={folder}
          options={folderLines(all).map(({ path }) => ({ value: path }))}
          onChange={setFolder}
          onKeyDown={(event) => event.key === "Enter" && folder.trim() && tell(moveCards(cards, folder.trim()))}
        />
        <Input
          aria-label="Tag to add"
          placeholder="Add a tag (press Enter)"
          value={tag}
          onChange={(event) => setTag(event.target.value)}
          onPressEnter={() => tag.trim() && tell(tagCards(cards, tag.trim()), () => setTag(""))}
        />
        <div className="details-tools">
          <Button size="small" icon={<Download size={14} />} onClick={() => tell(saveZip(cards))}>
            Save as zip
          </Button>
          <Popconfirm
            title={`Throw ${countedWord(cards.length, "action")} away?`}
            okText="Throw away"
            onConfirm={() => tell(throwAway(cards), onDone)}
          >
            <Button size="small" icon={<Trash2 size={14} />}>
              Throw away
            </Button>
          </Popconfirm>
        </div>
      </div>
    </aside>
  );
}
