import { type Control, findPartners, findSides, operations, partnersByPlace, type Shot, type SideWords, sidesOf } from "@kneader/core";
import { Button, Input, Segmented } from "antd";
import { usePreferences } from "../app/preferences.ts";
import { NumberField } from "../bench/NumberField.tsx";
import { mention, tell } from "../bench/notices.ts";
import { performOrTell } from "../bench/perform.ts";
import { pair } from "./RuleCells.tsx";

/** "gauche/droite, port/starboard" as pairs; what is no pair is named. */
function readWords(text: string): { words: SideWords[]; odd: string | null } {
  const parts = text.split(",").map((part) => part.trim());
  const words: SideWords[] = [];
  for (const part of parts.filter(Boolean)) {
    const [left, right, ...more] = part.split("/").map((word) => word.trim());
    if (!left || !right || more.length > 0 || left.toLowerCase() === right.toLowerCase()) return { words, odd: part };
    words.push([left, right]);
  }
  return { words, odd: null };
}

/** Finding partners, and where left meets right. */
export function RigTools({ shot, disabled }: { shot: Shot; disabled: boolean }) {
  const { sideWords, set } = usePreferences();
  const sides = sidesOf(shot.rig);
  const found = findSides(shot.rig);

  /** Take over what was found, for the figure alone: props and scenery keep what they have. */
  const take = (controls: readonly Control[], how: string) => {
    const before = new Map(shot.rig.controls.map((control) => [control.id, control.partner]));
    const changed = controls.filter(({ id, role, partner }) => role === "figure" && before.get(id) !== partner);
    if (changed.length === 0) return mention(`${how}: the partners are those that are there.`);
    // Who is nobody's partner any more stands alone.
    const said = Object.fromEntries(changed.map(({ id, partner }) => [id, { partner }]));
    if (pair(said)) mention(`${how}: ${changed.length} ${changed.length === 1 ? "control has" : "controls have"} another partner now.`);
  };
  const byNames = () => {
    const { words, odd } = readWords(sideWords);
    if (odd !== null) return tell(`"${odd}" is no pair of words. Write it as left/right, several with commas.`);
    take(findPartners(shot.rig.controls, words), "From names");
  };
  const setSides = (next: typeof sides | null) => performOrTell(operations.changeRig, { sides: next });
  const unit = shot.unitMetres ? { factor: shot.unitMetres * 1000, suffix: " mm" } : { factor: 1, suffix: " units" };
  return (
    <>
      <h3>Find partners</h3>
      <div className="rig-buttons">
        <Button size="small" disabled={disabled} onClick={byNames}>
          From names
        </Button>
        <Button size="small" disabled={disabled} onClick={() => take(partnersByPlace(shot.rig), "From places")}>
          From places
        </Button>
      </div>
      <Input
        size="small"
        aria-label="Words for left and right of your own"
        placeholder="your own words: gauche/droite"
        title="Words for left and right besides the common ones, as left/right, several with commas"
        value={sideWords}
        onChange={(event) => set({ sideWords: event.target.value })}
        onPressEnter={byNames}
      />
      <h3>Left meets right</h3>
      <div className="rig-buttons">
        <Segmented
          size="small"
          aria-label="Side axis"
          disabled={disabled}
          value={sides.axis}
          options={(["x", "y", "z"] as const).map((axis) => ({ value: axis, label: axis.toUpperCase() }))}
          onChange={(axis) => setSides({ axis, at: axis === found.axis ? found.at : 0 })}
        />
        <NumberField
          label="Middle along the side axis"
          title="Where on the side axis the middle of the figure rests"
          value={sides.at * unit.factor}
          decimals={1}
          suffix={unit.suffix}
          disabled={disabled}
          onCommit={(at) => setSides({ axis: sides.axis, at: at / unit.factor })}
        />
        {shot.rig.sides && (
          <Button size="small" type="text" disabled={disabled} onClick={() => setSides(null)}>
            As found
          </Button>
        )}
      </div>
      {!shot.rig.sides && <p className="quiet rig-note">Found from the rest pose.</p>}
    </>
  );
}
