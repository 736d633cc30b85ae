import { Button, Dropdown, Input, type MenuProps, Modal } from "antd";
import { Check, ListFilter, Search } from "lucide-react";
import { memo, useState } from "react";
import { commandShortcut } from "../../commandKeys.ts";
import { useReadOnly, useShot } from "../../documents.ts";
import { useSelection } from "../../selection.ts";
import {
  isolatePicked,
  lockChannels,
  pickedChannels,
  pickSet,
  removeSet,
  saveSet,
  togglePickedLocks,
  useChannelView,
} from "./channelView.ts";

/** Words to filter the channels by, and beside them everything else that narrows what is listed. */
export const FilterField = memo(function FilterField() {
  const view = useChannelView();
  const shot = useShot();
  const readOnly = useReadOnly();
  const nothing = useSelection((state) => state.controls.length + state.channels.length === 0);
  const [naming, setNaming] = useState<string | null>(null);
  const check = (on: boolean) => <Check size={14} style={{ visibility: on ? "visible" : "hidden" }} />;
  const withKeys = (label: string, id: string) => (
    <span className="menu-line">
      {label} <kbd>{commandShortcut(id)}</kbd>
    </span>
  );
  const items: MenuProps["items"] = [
    { key: "moving", icon: check(view.moving), label: "Only what moves" },
    { key: "ofPicked", icon: check(view.ofPicked), label: "Only picked controls" },
    { key: "unlocked", icon: check(view.unlocked), label: "Only unlocked" },
    { type: "divider" },
    { key: "isolate", icon: check(false), label: withKeys("Show the picked alone", "isolate"), disabled: nothing },
    {
      key: "show-all",
      icon: check(false),
      label: `Show all${view.hidden.size > 0 ? ` (${view.hidden.size} hidden)` : ""}`,
      disabled: view.hidden.size === 0,
    },
    { type: "divider" },
    { key: "lock", icon: check(false), label: withKeys("Lock or unlock the picked", "lock-picked"), disabled: nothing || readOnly },
    { key: "unlock-all", icon: check(false), label: "Unlock all", disabled: shot.locked.length === 0 || readOnly },
    { type: "divider" },
    ...shot.sets.map(({ name, channels }) => ({ key: `set ${name}`, icon: check(false), label: `${name} · ${channels.length}` })),
    { key: "save-set", icon: check(false), label: "Keep the picked as a set …", disabled: nothing || readOnly },
    ...(shot.sets.length > 0 && !readOnly
      ? [
          {
            key: "remove-sets",
            icon: check(false),
            label: "Remove a set",
            children: shot.sets.map(({ name }) => ({ key: `remove ${name}`, label: name })),
          },
        ]
      : []),
  ];
  const choose = (key: string) => {
    if (key === "moving" || key === "ofPicked" || key === "unlocked") view.set({ [key]: !view[key] });
    else if (key === "isolate") isolatePicked();
    else if (key === "show-all") view.showAll();
    else if (key === "lock") togglePickedLocks();
    else if (key === "unlock-all") lockChannels(shot.locked, false);
    else if (key === "save-set") setNaming("");
    else if (key.startsWith("set ")) pickSet(key.slice(4));
    else if (key.startsWith("remove ")) removeSet(key.slice(7));
  };
  const keep = () => {
    if (naming?.trim()) saveSet(naming);
    setNaming(null);
  };
  const narrowed = view.moving || view.ofPicked || view.unlocked || view.hidden.size > 0;
  return (
    <div className="filter-field">
      <Input
        size="small"
        allowClear
        prefix={<Search size={13} />}
        placeholder="Filter channels"
        aria-label="Filter channels"
        value={view.words}
        onChange={(event) => view.set({ words: event.target.value })}
        // Emptied by its cross it is done with: the next letter is for the bench.
        onClear={() => requestAnimationFrame(() => (document.activeElement as HTMLElement | null)?.blur())}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === "Escape" || event.key === "Enter") event.currentTarget.blur();
        }}
      />
      <Dropdown trigger={["click"]} menu={{ items, onClick: ({ key }) => choose(key) }}>
        <Button
          size="small"
          type={narrowed ? "primary" : "text"}
          aria-label="What is listed"
          title="Filters, locks and sets of channels"
          icon={<ListFilter size={14} />}
        />
      </Dropdown>
      <Modal
        title="Keep the picked as a set"
        open={naming !== null}
        okText="Keep"
        okButtonProps={{ disabled: !naming?.trim() }}
        onOk={keep}
        onCancel={() => setNaming(null)}
        destroyOnHidden
      >
        <Input
          autoFocus
          aria-label="Name of the set"
          placeholder="Name of the set"
          value={naming ?? ""}
          onChange={(event) => setNaming(event.target.value)}
          onPressEnter={keep}
        />
        <p className="quiet">{pickedChannels().length} channels, kept with the shot. A set of the same name is replaced.</p>
      </Modal>
    </div>
  );
});
