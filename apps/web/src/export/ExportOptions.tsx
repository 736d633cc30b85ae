import { countedWord, type Format, framesPerSecond, type Shot } from "@kneader/core";
import { Checkbox, Input, InputNumber, Radio } from "antd";
import { sayBytes } from "../bench/units.ts";
import { type ExportChoices, isScene } from "./exportChoices.ts";

interface Props {
  format: Format;
  shot: Shot;
  picked: readonly string[];
  choices: ExportChoices;
  onChange(choices: ExportChoices): void;
}

/** What can be chosen about a format, where there is something to choose. */
export function ExportOptions(props: Props) {
  const { format, shot, choices, onChange } = props;
  const { asset } = shot;
  if (format.id === "json" && asset)
    return (
      <Checkbox checked={choices.withFile} onChange={({ target }) => onChange({ ...choices, withFile: target.checked })}>
        With the character's file inside ({sayBytes(asset.bytes)})
      </Checkbox>
    );
  if (!isScene(format) && !format.needsAsset) return null;
  return (
    <div className="export-options">
      {format.needsAsset && <Place {...props} />}
      {isScene(format) && !asset?.isDrawn && (
        <Checkbox checked={choices.withBody} onChange={({ target }) => onChange({ ...choices, withBody: target.checked })}>
          With the body that is drawn (without: the motion only)
        </Checkbox>
      )}
      {isScene(format) && asset?.isDrawn && (
        <p className="quiet">The motion only. The character itself goes into "The file it came from".</p>
      )}
      <Motion {...props} />
    </div>
  );
}

/** In place of the animation it began with, or beside it, and under which name. */
function Place({ shot, choices, onChange }: Props) {
  const { asset } = shot;
  const began = asset?.animation !== null && asset?.animation !== undefined;
  return (
    <>
      <Radio.Group
        aria-label="Where it goes"
        value={choices.adds || !began}
        onChange={({ target }) => onChange({ ...choices, adds: target.value })}
      >
        <Radio value={false} disabled={!began}>
          In place of the animation it began with
        </Radio>
        <Radio value={true}>As one more animation</Radio>
      </Radio.Group>
      <div className="export-line">
        <span>Name of the animation</span>
        <Input
          aria-label="Name of the animation"
          size="small"
          value={choices.name}
          placeholder={(!choices.adds && asset?.animationName) || shot.name}
          onChange={({ target }) => onChange({ ...choices, name: target.value })}
        />
      </div>
    </>
  );
}

function Motion({ shot, picked, choices, onChange }: Props) {
  const fps = framesPerSecond(shot.rate);
  return (
    <>
      <Radio.Group aria-label="Motion" value={choices.motion} onChange={({ target }) => onChange({ ...choices, motion: target.value })}>
        <Radio value="keys">Keys, where they say all there is</Radio>
        <Radio value="samples">Samples throughout</Radio>
      </Radio.Group>
      <div className="export-line">
        <span>Samples a second</span>
        <InputNumber
          aria-label="Samples a second"
          size="small"
          min={1}
          max={480}
          value={choices.rate ?? fps}
          onChange={(rate) => onChange({ ...choices, rate: rate === fps ? null : rate })}
        />
      </div>
      {picked.length > 0 && (
        <Checkbox checked={choices.onlyPicked} onChange={({ target }) => onChange({ ...choices, onlyPicked: target.checked })}>
          Only what is picked ({countedWord(picked.length, "control")})
        </Checkbox>
      )}
    </>
  );
}
