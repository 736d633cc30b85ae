import { Input, type InputRef, Modal } from "antd";
import { Search } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { commandShortcut } from "./commandKeys.ts";
import { findCommands } from "./commands.ts";
import { useDialogs } from "./dialogs.ts";

/** Every operation and command, found by plain words. */
export function CommandFinder() {
  const open = useDialogs((state) => state.open === "finder");
  const show = useDialogs((state) => state.show);
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const input = useRef<InputRef>(null);
  const found = useMemo(() => findCommands(text), [text]);
  useEffect(() => {
    if (open) setText("");
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
    close();
    found[index]?.run();
  };
  return (
    <Modal
      open={open}
      onCancel={close}
      footer={null}
      closable={false}
      title={null}
      width={520}
      style={{ top: 52 }}
      afterOpenChange={(opened) => opened && input.current?.focus()}
      destroyOnHidden
    >
      <Input
        ref={input}
        size="large"
        prefix={<Search size={15} />}
        placeholder="Find a command"
        aria-label="Find a command"
        role="combobox"
        aria-expanded
        aria-controls="found-commands"
        aria-activedescendant={found[at] ? `command-${found[at].id}` : undefined}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setAt(Math.min(found.length - 1, at + 1));
          else if (event.key === "ArrowUp") setAt(Math.max(0, at - 1));
          else if (event.key === "Enter") run(at);
          else return;
          event.preventDefault();
        }}
      />
      <div className="finder-list" id="found-commands" role="listbox" aria-label="Commands" ref={list}>
        {found.map((command, i) => (
          <div
            key={command.id}
            id={`command-${command.id}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === at}
            className={i === at ? "at" : ""}
            onPointerMove={() => setAt(i)}
            onClick={() => run(i)}
            onKeyDown={(event) => event.key === "Enter" && run(i)}
          >
            <span>{command.title}</span>
            {command.help && <span className="quiet">{command.help}</span>}
            {commandShortcut(command.id) && <kbd>{commandShortcut(command.id)}</kbd>}
          </div>
        ))}
        {found.length === 0 && <p className="quiet empty-line">Nothing is called that. Try another word, such as "loop" or "tangent".</p>}
      </div>
    </Modal>
  );
}
