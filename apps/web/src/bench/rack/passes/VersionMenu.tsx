import { operations, presentVersion } from "@kneader/core";
import { App as AntApp, Button, Dropdown, Input, Popover } from "antd";
import { Layers2 } from "lucide-react";
import { memo, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { useDialogs } from "../../dialogs.ts";
import { useReadOnly, useShownPart } from "../../documents.ts";
import { perform, performOrTell } from "../../perform.ts";

/** Named states of the passes: go to one, keep the present one, compare. */
export const VersionMenu = memo(function VersionMenu() {
  const versions = useShownPart((shot) => shot.versions);
  const id = useShownPart((shot) => shot.id);
  const present = useShownPart(presentVersion);
  const readOnly = useReadOnly();
  const navigate = useNavigate();
  const { message } = AntApp.useApp();
  const naming = useDialogs((state) => state.open === "version");
  const setNaming = (open: boolean) => useDialogs.getState().show(open ? "version" : null);
  const [name, setName] = useState("");
  // Whoever opens it, it proposes a name.
  useEffect(() => {
    if (naming) setName(present?.name ?? `Version ${versions.length + 1}`);
  }, [naming, present, versions.length]);
  /** The field lets go at once: the next key is a shortcut again. */
  const close = () => {
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
    setNaming(false);
  };
  const keep = () => {
    if (name.trim() === "") return void message.error("A version needs a name.");
    const answer = perform(operations.changeVersion, { keep: name.trim() });
    if (answer.done) close();
    else message.error(answer.reason);
  };
  return (
    <Popover
      open={naming}
      destroyOnHidden
      trigger="click"
      onOpenChange={(open) => !open && setNaming(false)}
      content={
        <div className="version-form">
          <Input
            autoFocus
            size="small"
            aria-label="Name of the version"
            placeholder="Name, such as Heavier tail"
            maxLength={60}
            value={name}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === "Enter") keep();
              if (event.key === "Escape") close();
            }}
          />
          <Button size="small" type="primary" onClick={keep}>
            Keep
          </Button>
        </div>
      }
    >
      <Dropdown
        trigger={["click"]}
        menu={{
          selectedKeys: present ? [present.id] : [],
          items: [
            ...versions.map((version) => ({ key: version.id, label: version.name, disabled: readOnly })),
            ...(versions.length > 0 ? [{ type: "divider" as const }] : []),
            { key: "keep", label: "Keep this state as a version …", disabled: readOnly },
            ...(present ? [{ key: "remove", label: `Forget "${present.name}"`, disabled: readOnly }] : []),
            { key: "compare", label: "Compare …" },
          ],
          onClick: ({ key }) => {
            if (key === "keep") setNaming(true);
            else if (key === "compare") navigate(`/shots/${id}/compare`);
            else if (key === "remove" && present) performOrTell(operations.changeVersion, { forget: present.name });
            else {
              const version = versions.find(({ id: other }) => other === key);
              if (version) performOrTell(operations.changeVersion, { use: version.name });
            }
          },
        }}
      >
        <button type="button" className="version-button" title="Versions: named states of the passes">
          <Layers2 size={13} />
          {present?.name ?? (versions.length > 0 ? "Not kept yet" : "Versions")}
        </button>
      </Dropdown>
    </Popover>
  );
});
