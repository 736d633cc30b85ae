import { countedWord } from "@kneader/core";
import { Checkbox, Modal, Radio } from "antd";
import { useEffect, useState } from "react";
import { type Choosable, type Chosen, type TakenAs, useAnimationChoice } from "./animationChoice.ts";

const restWords = {
  nodes: { title: "As its parts stand in the file", help: "The pose they have without any animation." },
  bind: {
    title: "The pose it was bound in",
    help: "In which the skin was fitted, mostly alike on both sides: best for mirroring and matching.",
  },
  first: { title: "The first frame", help: "Of the animation that is opened." },
} as const;

/** Which animations of a file to open, as what, and from what to take the rest pose. */
export function AnimationsDialog() {
  const { asked, answer } = useAnimationChoice();
  // The dialog stays as it was while it closes.
  const [shown, setShown] = useState<Choosable | null>(null);
  useEffect(() => {
    if (asked) setShown(asked);
  }, [asked]);
  if (!shown) return null;
  return <Question key={shown.file} shown={shown} isOpen={asked !== null} answer={answer} />;
}

function Question({ shown, isOpen, answer }: { shown: Choosable; isOpen: boolean; answer(chosen: Chosen | null): void }) {
  const { file, animations, rests, open } = shown;
  const [picked, setPicked] = useState<readonly number[]>(animations.length > 0 ? [0] : []);
  const [as, setAs] = useState<TakenAs>("shots");
  const [rest, setRest] = useState(rests.includes("bind") ? "bind" : rests[0]);
  const all = picked.length === animations.length;
  const canOpen = picked.length > 0 || animations.length === 0;
  const count = as === "onto" ? Math.min(1, picked.length) : picked.length;
  const title =
    as === "shots"
      ? count > 1
        ? `Open ${count} shots`
        : "Open the shot"
      : as === "actions"
        ? `Keep ${countedWord(count, "action")}`
        : "Lay it on";
  const done = () => answer({ animations: as === "onto" ? picked.slice(0, 1) : picked, as, rest });
  return (
    <Modal
      open={isOpen}
      title={`What to open of "${file}"`}
      width={540}
      okText={title}
      okButtonProps={{ disabled: !canOpen, autoFocus: true }}
      onOk={done}
      onCancel={() => answer(null)}
      destroyOnHidden
    >
      {animations.length > 1 && (
        <fieldset className="choice-list">
          <legend>
            {countedWord(animations.length, "animation")}
            <Checkbox
              checked={all}
              indeterminate={!all && picked.length > 0}
              onChange={() => setPicked(all ? [] : animations.map((_, i) => i))}
            >
              All
            </Checkbox>
          </legend>
          {animations.map(({ name, seconds, tracks }, i) => (
            <Checkbox
              key={`${i}-${name}`}
              checked={picked.includes(i)}
              onChange={({ target }) =>
                setPicked(target.checked ? [...picked, i].sort((a, b) => a - b) : picked.filter((one) => one !== i))
              }
            >
              <b>{name}</b>{" "}
              <span className="quiet">
                {seconds.toFixed(2)} s · {countedWord(tracks, "track")}
              </span>
            </Checkbox>
          ))}
        </fieldset>
      )}
      {animations.length > 0 && (
        <fieldset className="choice-list">
          <legend>Open as</legend>
          <Radio.Group value={as} onChange={({ target }) => setAs(target.value)}>
            <Radio value="shots">Shots that share the character</Radio>
            <Radio value="actions">Actions in the pantry</Radio>
            <Radio value="onto" disabled={open === null}>
              {open === null ? "Motion for the character on the bench (open a shot first)" : `Motion for the character of "${open}"`}
            </Radio>
          </Radio.Group>
        </fieldset>
      )}
      {rests.length > 1 && (
        <fieldset className="choice-list">
          <legend>Rest pose</legend>
          <Radio.Group value={rest} onChange={({ target }) => setRest(target.value)}>
            {rests.map((one) => (
              <Radio key={one} value={one}>
                {restWords[one].title}
                <div className="quiet">{restWords[one].help}</div>
              </Radio>
            ))}
          </Radio.Group>
        </fieldset>
      )}
    </Modal>
  );
}
