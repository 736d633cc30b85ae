import { type ReactNode, useState } from "react";
import { Dial } from "./Dial.tsx";
import { fieldFor } from "./fields.tsx";
import type { FormProps } from "./property.ts";
import "./dial.css";

/** The work card's fields, made from what the operation says about its settings. */
export function SettingsForm({ properties, values, shot, disabled, onChange }: FormProps) {
  const set = (name: string, value: unknown) => onChange({ ...values, [name]: value });
  const entries = Object.entries(properties).filter(
    ([, { when = {}, hidden }]) => !hidden && Object.entries(when).every(([name, wanted]) => values[name] === wanted),
  );
  const fields = (list: typeof entries) =>
    list.map(([name, property]) => {
      const Field = fieldFor(property);
      const title = property.title ?? name;
      const change = (value: unknown) => set(name, value);
      const common = { title, property, value: values[name], values, shot, disabled, onChange: change, Form: SettingsForm };
      return <Field key={name} {...common} />;
    });
  const often = entries.filter(([, { more }]) => !more);
  const seldom = entries.filter(([, { more }]) => more);
  const rest = seldom.length > 0 && <More titles={seldom.map(([name, { title }]) => title ?? name)}>{() => fields(seldom)}</More>;
  const dial = often.find(([, property]) => property.widget === "dial");
  if (!dial)
    return (
      <div className="settings">
        {fields(often)}
        {rest}
      </div>
    );
  const [name, { title, max = 200, step = 5, minimum = 0, maximum = Number.POSITIVE_INFINITY }] = dial;
  const numbers = often.filter(([other, property]) => other !== name && property.type === "number");
  const leading = often.filter(([, { first }]) => first);
  const beside = numbers.length > 0 ? numbers : often.filter((entry) => entry !== dial && !leading.includes(entry));
  // What an operation asks for before all else is what is typed first, wherever it stands.
  const isFirst = often[0] === dial;
  return (
    <div className="settings">
      {fields(leading)}
      <div className={`settings-dialled ${isFirst ? "dial-first" : ""}`}>
        {!isFirst && <div className="settings-rows">{fields(beside)}</div>}
        <Dial
          label={title ?? name}
          value={Number(values[name] ?? 100)}
          min={minimum < 0 ? -max : 0}
          max={max}
          least={minimum}
          most={maximum}
          step={step}
          onChange={(value) => set(name, value)}
        />
        {isFirst && <div className="settings-rows">{fields(beside)}</div>}
      </div>
      {fields(often.filter((entry) => entry !== dial && !beside.includes(entry) && !leading.includes(entry)))}
      {rest}
    </div>
  );
}

/** Settings that are seldom told, behind a line that names them. */
function More({ titles, children }: { titles: readonly string[]; children(): ReactNode }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="more-settings" aria-expanded={isOpen} title={titles.join(", ")} onClick={() => setOpen(!isOpen)}>
        {isOpen ? "Less" : `More: ${titles.slice(0, 4).join(", ").toLowerCase()} …`}
      </button>
      {isOpen && children()}
    </>
  );
}
