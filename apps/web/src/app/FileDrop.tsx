import { useEffect } from "react";
import { useNavigate } from "react-router";
import { whenPicked } from "./pickFiles.ts";
import { useFileDrop } from "./useFileDrop.ts";
import { useTakeFiles } from "./useTakeFiles.tsx";
import { showTheWay } from "./wayfinder.ts";

/** Files may be dropped anywhere in the application; while some are held over it, it says what would become of them. */
export function FileDrop() {
  const take = useTakeFiles();
  const navigate = useNavigate();
  const over = useFileDrop((files) => void take(files));
  useEffect(() => {
    whenPicked((files) => void take(files));
    showTheWay(navigate);
  }, [take, navigate]);
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
