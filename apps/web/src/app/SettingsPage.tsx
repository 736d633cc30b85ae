import { Button, Input, Segmented } from "antd";
import { useState } from "react";
import { commands } from "../bench/commands/commands.ts";
import { defaultShortcuts, keyName, sayShortcut } from "../bench/commandKeys.ts";
import { Header } from "./Header.tsx";
import { usePreferences } from "./preferences.ts";
import type { ThemeName } from "./theme.ts";

/** Theme and shortcuts. */
export function SettingsPage() {
  const { theme, shortcuts, set } = usePreferences();
  const all = { ...defaultShortcuts, ...shortcuts };
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
          <h2>Shortcuts</h2>
          <p className="quiet">Click a shortcut and press the new keys. A shortcut that is taken moves to the command you give it.</p>
          <div className="shortcut-list">
            {commands.map((command) => (
              <ShortcutRow
                key={command.id}
                title={command.title}
                keys={all[command.id] ?? ""}
                onKeys={(keys) => {
                  const freed = Object.fromEntries(
                    Object.entries(all)
                      .filter(([id, used]) => used === keys && id !== command.id)
                      .map(([id]) => [id, ""]),
                  );
                  set({ shortcuts: { ...shortcuts, ...freed, [command.id]: keys } });
                }}
              />
            ))}
          </div>
          <Button onClick={() => set({ shortcuts: {} })}>All shortcuts as they came</Button>
        </section>
      </main>
    </div>
  );
}

function ShortcutRow({ title, keys, onKeys }: { title: string; keys: string; onKeys(keys: string): void }) {
  const [waiting, setWaiting] = useState(false);
  return (
    <div className="shortcut-row">
      <span>{title}</span>
      <Input
        size="small"
        readOnly
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
