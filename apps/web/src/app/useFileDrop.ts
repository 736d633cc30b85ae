import { useEffect, useRef, useState } from "react";

/** Files may be dropped anywhere on the page. Answers whether some are being held over it. */
export function useFileDrop(onFiles: (files: File[]) => void): boolean {
  const [over, setOver] = useState(false);
  const latest = useRef(onFiles);
  latest.current = onFiles;
  useEffect(() => {
    const holdsFiles = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;
    const hold = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (event.relatedTarget === null) setOver(false);
    };
    const drop = (event: DragEvent) => {
      setOver(false);
      if (!holdsFiles(event)) return;
      // Without this the browser would leave the page for the file.
      event.preventDefault();
      const files = [...(event.dataTransfer?.files ?? [])];
      if (files.length > 0) latest.current(files);
    };
    window.addEventListener("dragover", hold);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", hold);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", drop);
    };
  }, []);
  return over;
}
