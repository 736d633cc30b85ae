import type { Shot } from "@kneader/core";
import type { ComponentType } from "react";

/** What JSON Schema and the operation's own metadata say of one setting. */
export interface Property {
  type?: string;
  title?: string;
  help?: string;
  unit?: string;
  widget?: string;
  enum?: string[];
  labels?: Record<string, string>;
  minimum?: number;
  maximum?: number;
  max?: number;
  step?: number;
  /** What 0 means, where it is a choice of its own and no number: "for ever". */
  zero?: string;
  /** What it means that nothing is chosen, where it is not found by itself. */
  empty?: string;
  /** Only shown while other settings have these values. */
  when?: Record<string, unknown>;
  /** It stands above the dial. */
  first?: boolean;
  /** Seldom told: it stands under "More". */
  more?: boolean;
  /** It is told by what opens the card, and not shown. */
  hidden?: boolean;
  default?: unknown;
}

/** Settings as a form. */
export interface FormProps {
  properties: Readonly<Record<string, Property>>;
  values: Readonly<Record<string, unknown>>;
  shot: Shot;
  disabled: boolean;
  onChange(values: Record<string, unknown>): void;
}

/** One setting, as its field is given it. */
export interface FieldProps {
  title: string;
  property: Property;
  value: unknown;
  /** All settings of the form it stands in. */
  values: Readonly<Record<string, unknown>>;
  shot: Shot;
  disabled: boolean;
  onChange(value: unknown): void;
  /** The form the field stands in: for settings that hold settings. */
  Form: ComponentType<FormProps>;
}
