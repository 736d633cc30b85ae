import { clipToText, sayError } from "@kneader/core";
import { App as AntApp } from "antd";
import { useEffect } from "react";
import { canChange, copyScope, cutScope, pasteText } from "./clipboard.ts";
import { sayClip } from "./copied.ts";

/** Copy, cut and paste by the system's own keys and menus, wherever no text is being edited. */
export function useClipboard(): void {
  const { message } = AntApp.useApp();
  useEffect(() => {
    const isTextual = (event: ClipboardEvent) => {
      const target = event.target as HTMLElement | null;
      return target?.matches?.("input, textarea, [contenteditable]") ?? false;
    };
    const take = (lift: typeof copyScope, verb: string) => (event: ClipboardEvent) => {
      if (isTextual(event)) return;
      try {
        const clip = lift();
        if (!clip) return;
        event.clipboardData?.setData("text/plain", clipToText(clip));
        event.preventDefault();
        message.success(`${verb} ${sayClip(clip)}. Ctrl V pastes at the playhead.`);
      } catch (error) {
        message.error(sayError(error));
      }
    };
    const copy = take(copyScope, "Copied");
    const cut = (event: ClipboardEvent) => canChange() && take(cutScope, "Cut")(event);
    const paste = (event: ClipboardEvent) => {
      if (isTextual(event) || !canChange()) return;
      try {
        pasteText(event.clipboardData?.getData("text/plain") ?? "");
        event.preventDefault();
      } catch (error) {
        message.error(sayError(error));
      }
    };
    document.addEventListener("copy", copy);
    document.addEventListener("cut", cut);
    document.addEventListener("paste", paste);
    return () => {
      document.removeEventListener("copy", copy);
      document.removeEventListener("cut", cut);
      document.removeEventListener("paste", paste);
    };
  }, [message]);
}
