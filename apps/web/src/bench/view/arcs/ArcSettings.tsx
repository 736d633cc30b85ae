import { Segmented, Switch } from "antd";
import { usePreferences } from "../../../app/preferences.ts";
import { clock } from "../../clock.ts";
import { commandShortcut } from "../../commandKeys.ts";
import { NumberField } from "../../NumberField.tsx";
import { useArcState } from "./arcState.ts";

const overs = [
  { value: "shot", label: "Shot" },
  { value: "range", label: "Marked range" },
  { value: "around", label: "Around" },
] as const;

/** So many bends are listed, the hardest first. */
const MOST = 8;

/** Over which frames arcs are drawn, how, and where they bend. */
export function ArcSettings() {
  const { arcOver, arcAround, arcFlat, arcBends, set } = usePreferences();
  const { bends } = useArcState();
  const hardest = [...bends].sort((a, b) => b.size - a.size).slice(0, MOST);
  return (
    <div className="ghost-settings">
      <span className="quiet">Click a mark to go there; drag it to change the pose of its frame.</span>
      <Segmented
        size="small"
        aria-label="Arc over"
        value={arcOver}
        options={[...overs]}
        onChange={(value) => set({ arcOver: value, arc: true })}
      />
      {arcOver === "around" && (
        <label className="ghost-field">
          Frames each side
          <NumberField
            label="Frames each side"
            value={arcAround}
            decimals={0}
            min={1}
            max={500}
            onCommit={(value) => set({ arcAround: value })}
          />
        </label>
      )}
      <label className="ghost-field" title="Each frame where the shot camera sees it then, as the audience does; for the shot camera">
        Flat, as the camera sees it
        <Switch
          size="small"
          aria-label="Flat, as the camera sees it"
          checked={arcFlat}
          onChange={(on) => set({ arcFlat: on, arc: true })}
        />
      </label>
      <label className="ghost-field" title="Frames at which the path turns harder than on the frames beside them">
        Mark bends
        <Switch size="small" aria-label="Mark bends" checked={arcBends} onChange={(on) => set({ arcBends: on })} />
      </label>
      {arcBends && (
        <div className="bend-list" role="group" aria-label="Bends">
          {hardest.map(({ control, name, frame, size }) => (
            <button key={`${control} ${frame}`} type="button" className="link" onClick={() => clock.set(frame)}>
              {name} <b className="mono">{Math.round(size)}°</b> at {frame}
            </button>
          ))}
          <span className="quiet">
            {bends.length === 0
              ? "No bend stands out on the arcs shown."
              : `${bends.length > MOST ? `${bends.length - MOST} more. ` : ""}${commandShortcut("next-bend")} goes to the next.`}
          </span>
        </div>
      )}
    </div>
  );
}
