import { App as AntApp, Button, Input, Segmented } from "antd";
import { useState } from "react";
import { commandById, commands } from "../bench/commands/commands.ts";
import { defaultShortcuts, fixedShortcuts, keyName, sayShortcut, whyNotShortcut } from "../bench/commandKeys.ts";
import { GhostSettings } from "../bench/view/GhostSettings.tsx";
import { Header } from "./Header.tsx";
import { usePreferences } from "./preferences.ts";
import type { ThemeName } from "./theme.ts";

/** Theme, ghosts and shortcuts. */
export function SettingsPage() {
  const { theme, shortcuts, set } = usePreferences();
  const all: Readonly<Record<string, string>> = { ...defaultShortcuts, ...shortcuts };
  const { message, modal } = AntApp.useApp();
  const put = (id: string, keys: string, freed: Readonly<Record<string, string>> = {}) =>
    set({ shortcuts: { ...shortcuts, ...freed, [id]: keys } });
  /** Give a command a shortcut: refused where it cannot be given, asked about where another command has it. */
  const give = (id: string, keys: string) => {
    const why = whyNotShortcut(keys);
    if (why) return void message.error(`${sayShortcut(keys)}: ${why}`);
    const owner = keys === "" ? undefined : Object.entries(all).find(([other, used]) => used === keys && other !== id)?.[0];
    if (!owner) return put(id, keys);
    const title = commandById(owner)?.title ?? owner;
    modal.confirm({
      title: `${sayShortcut(keys)} is the shortcut of "${title}"`,
      content: `"${title}" would have none then.`,
      okText: `Give it to "${commandById(id)?.title}"`,
      cancelText: "Leave it",
      onOk: () => put(id, keys, { [owner]: "" }),
    });
  };
  return (
    <div className="page">
      <Header page="settings" />
      <main className="settings-page">
        <h1>Settings</h1>
        <section>
          <h2>Theme</h2>
          <Segmented
            aria-label="Theme"
            value={theme}
            options={[
              { value: "light", label: "Light" },
              { value: "dusk", label: "Dusk" },
            ]}
            onChange={(value) => set({ theme: value as ThemeName })}
          />
        </section>
        <section>
          <h2>Ghosts</h2>
          <p className="quiet">Which poses are drawn pale beside the present one. The same stands under the ghosts' switch in the view.</p>
          <GhostSettings />
        </section>
        <section>
          <h2>Shortcuts</h2>
          <p className="quiet">
            Click a shortcut and press the new keys; Backspace takes it away. One that is taken is given over only when you say so.
          </p>
          <div className="shortcut-list">
            {commands
              .filter(({ aside }) => !aside)
              .map(({ id, title }) => (
                <ShortcutRow key={id} title={title} keys={all[id] ?? ""} fixed={fixedShortcuts.has(id)} onKeys={(keys) => give(id, keys)} />
              ))}
          </div>
          <Button onClick={() => set({ shortcuts: {} })}>All shortcuts as they came</Button>
        </section>
      </main>
    </div>
  );
}

interface ShortcutRowProps {
  title: string;
  keys: string;
  /** It is always this one. */
  fixed: boolean;
  onKeys(keys: string): void;
}

function ShortcutRow({ title, keys, fixed, onKeys }: ShortcutRowProps) {
  const [waiting, setWaiting] = useState(false);
  return (
    <div className="shortcut-row">
      <span>{title}</span>
      <Input
        size="small"
        readOnly
        disabled={fixed}
        title={fixed ? "Always this one" : undefined}
        aria-label={`Shortcut of ${title}`}
        value={waiting ? "press keys" : sayShortcut(keys)}
        placeholder="none"
        onFocus={() => setWaiting(true)}
        onBlur={() => setWaiting(false)}
        onKeyDown={(event) => {
          if (event.key === "Tab" || ["Shift", "Control", "Alt", "Meta"].includes(event.key)) return;
          event.preventDefault();
          if (event.key !== "Escape") {
            onKeys(
              [
                event.ctrlKey || event.metaKey ? "mod" : "",
                event.shiftKey ? "shift" : "",
                event.key === "Backspace" ? "" : keyName(event.code),
              ]
                .filter(Boolean)
                .join("+"),
            );
          }
          event.currentTarget.blur();
        }}
      />
    </div>
  );
}
