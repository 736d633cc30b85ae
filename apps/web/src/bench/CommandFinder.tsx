import { Input, type InputRef, Modal } from "antd";
import { Search } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { usePreferences } from "../app/preferences.ts";
import type { Command } from "./commands/command.ts";
import { commands } from "./commands/commands.ts";
import { type FoundCommand, findCommands, saySettings } from "./commands/findCommands.ts";
import { nearestByWords } from "./commands/findByWords.ts";
import { commandShortcut } from "./commandKeys.ts";
import { useDialogs } from "./dialogs.ts";
import { tell } from "./notices.ts";
import { useWork } from "./work/workStore.ts";

/** What was used lately stands on top as long as nothing is typed. */
function found(text: string, lately: readonly string[]): readonly FoundCommand[] {
  if (text.trim()) return findCommands(text);
  const first = lately.flatMap((id) => commands.find((command) => command.id === id) ?? []);
  return [...first, ...commands.filter((command) => !first.includes(command))].map((command) => ({ command, settings: null }));
}

/** Everything that has a name, found by plain words: operations, commands, views, pages, settings. */
export function CommandFinder() {
  const open = useDialogs((state) => state.open === "finder");
  const show = useDialogs((state) => state.show);
  const lately = usePreferences((state) => state.lately);
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const input = useRef<InputRef>(null);
  const exact = useMemo(() => found(text, lately), [text, lately]);
  const near = useMemo(
    () => (exact.length === 0 ? nearestByWords(commands, text).map((command) => ({ command, settings: null })) : []),
    [exact, text],
  );
  const listed = exact.length > 0 ? exact : near;
  useEffect(() => {
    if (!open) return;
    setText("");
    setAt(0);
    // Not a letter is lost while it opens.
    const early = (event: KeyboardEvent) => {
      if (event.key.length !== 1 || event.ctrlKey || event.metaKey || document.activeElement === input.current?.input) return;
      event.preventDefault();
      setText((typed) => typed + event.key);
    };
    window.addEventListener("keydown", early, true);
    return () => window.removeEventListener("keydown", early, true);
  }, [open]);
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    list.current?.children[at]?.scrollIntoView({ block: "nearest" });
  }, [at]);
  /** The field lets go at once: the next key is a shortcut again. */
  const close = () => {
    input.current?.blur();
    show(null);
  };
  const run = (index: number) => {
    const { command, settings } = listed[index] ?? {};
    if (!command) return;
    close();
    const missing = command.missing?.() ?? null;
    if (missing) tell(`${command.title}: ${missing.charAt(0).toLowerCase()}${missing.slice(1)}`);
    else if (settings) useWork.getState().open(command.id, settings);
    else command.run();
  };
  return (
    <Modal
      open={open}
      onCancel={close}
      footer={null}
      closable={false}
      title={null}
      width={560}
      style={{ top: 52 }}
      afterOpenChange={(opened) => opened && input.current?.focus()}
      destroyOnHidden
      // What a command opens takes the focus, not what had it before.
      focusable={{ focusTriggerAfterClose: false }}
    >
      <Input
        ref={input}
        size="large"
        autoFocus
        prefix={<Search size={15} />}
        placeholder="Find anything: an operation, a view, a page, a setting"
        aria-label="Find a command"
        role="combobox"
        aria-expanded
        aria-controls="found-commands"
        aria-activedescendant={listed[at] ? `command-${listed[at].command.id}` : undefined}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setAt(Math.min(listed.length - 1, at + 1));
          else if (event.key === "ArrowUp") setAt(Math.max(0, at - 1));
          else if (event.key === "Enter") run(at);
          else return;
          event.preventDefault();
        }}
      />
      {near.length > 0 && (
        <p className="quiet finder-none" role="status">
          Nothing is called "{text.trim()}". Nearest to it:
        </p>
      )}
      <div className="finder-list" id="found-commands" role="listbox" aria-label="Commands" ref={list}>
        {listed.map(({ command, settings }, i) => (
          <Found key={command.id} command={command} settings={settings} at={i === at} onPoint={() => setAt(i)} onRun={() => run(i)} />
        ))}
      </div>
    </Modal>
  );
}

interface FoundProps {
  command: Command;
  settings: Record<string, unknown> | null;
  at: boolean;
  onPoint(): void;
  onRun(): void;
}

function Found({ command, settings, at, onPoint, onRun }: FoundProps) {
  const missing = command.missing?.() ?? null;
  const keys = commandShortcut(command.id);
  return (
    <div
      id={`command-${command.id}`}
      role="option"
      tabIndex={-1}
      aria-selected={at}
      aria-disabled={missing !== null}
      className={`${at ? "at" : ""} ${missing ? "lacking" : ""}`}
      onPointerMove={onPoint}
      onClick={onRun}
      onKeyDown={(event) => event.key === "Enter" && onRun()}
    >
      <span>
        {command.title}
        {settings && <b className="quiet"> {saySettings(settings)}</b>}
      </span>
      <span className="quiet">{missing ?? command.help}</span>
      {keys && <kbd>{keys}</kbd>}
    </div>
  );
}
