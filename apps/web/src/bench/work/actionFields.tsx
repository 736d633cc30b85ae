import { type Action, playPass } from "@kneader/core";
import { AutoComplete, Select } from "antd";
import { folderLines } from "../../pantry/findCards.ts";
import { useRootFolders } from "../../pantry/rootFolders.ts";
import { isSharedFolder, useShared } from "../../storage/sharedShelf.ts";
import { useSharedShelf } from "../../pantry/SharedLock.tsx";
import { useCards } from "../../pantry/useActions.ts";
import { pantry } from "../../storage/pantry.ts";
import type { FieldProps } from "./property.ts";
import { Setting } from "./Setting.tsx";

/*
 * Fields for settings that have to do with the pantry: which action, which folder, which row.
 */

export function ActionSetting({ title, property, value, onChange }: FieldProps) {
  const cards = useCards() ?? [];
  return (
    <Setting title={title} property={property}>
      <Select
        size="small"
        showSearch
        aria-label={title}
        placeholder="Choose from the pantry"
        value={(value as Action | undefined)?.card.id}
        options={cards.map((card) => ({ value: card.id, label: card.name }))}
        onChange={async (id) => onChange(await pantry.get(id))}
      />
    </Setting>
  );
}

export function FolderSetting({ title, property, value, disabled, onChange }: FieldProps) {
  const cards = useCards() ?? [];
  // What others share is looked at while it may be chosen.
  useSharedShelf();
  const roots = useRootFolders();
  const { shelf, unlocked } = useShared();
  const isLocked = shelf !== null && !unlocked && isSharedFolder(String(value ?? ""));
  return (
    <Setting title={title} property={property}>
      <div className="setting-with-word">
        <AutoComplete
          size="small"
          aria-label={title}
          value={String(value ?? "")}
          disabled={disabled}
          options={folderLines(cards, roots).map(({ path }) => ({ value: path }))}
          onChange={onChange}
        />
        {isLocked && (
          <p className="warning" role="status">
            {shelf.readOnly ? (
              "This shared shelf is only to look at: choose another folder."
            ) : (
              <>
                The shared shelf is locked, so nothing is saved there.{" "}
                <button type="button" className="link-button" onClick={() => useShared.setState({ unlocked: true })}>
                  Unlock it
                </button>
              </>
            )}
          </p>
        )}
      </div>
    </Setting>
  );
}

export function BandSetting({ title, property, value, shot, disabled, onChange }: FieldProps) {
  const bands = shot.passes.filter(({ kind }) => kind === playPass.id);
  if (bands.length === 0) return null;
  return (
    <Setting title={title} property={property}>
      <Select
        size="small"
        aria-label={title}
        value={String(value ?? "")}
        disabled={disabled}
        options={[{ value: "", label: "In a row of its own" }, ...bands.map(({ id, name }) => ({ value: id, label: name }))]}
        onChange={onChange}
      />
    </Setting>
  );
}
