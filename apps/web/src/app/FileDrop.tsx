import { useFileDrop } from "./useFileDrop.ts";
import { useTakeFiles } from "./useTakeFiles.tsx";

/** Files may be dropped anywhere in the application; while some are held over it, it says what would become of them. */
export function FileDrop() {
  const take = useTakeFiles();
  const over = useFileDrop((files) => void take(files));
  if (!over) return null;
  return (
    <div className="file-drop" aria-hidden>
      <p>
        <b>Let go to open</b>
        <span>Shots (BVH, glTF, CSV, JSON) and actions, one or many</span>
      </p>
    </div>
  );
}
