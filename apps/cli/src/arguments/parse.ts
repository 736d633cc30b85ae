import { UsageError } from "../result.ts";
import { didYouMean } from "./didYouMean.ts";

/** An option of a command: its name without dashes, and what it takes; a switch takes nothing. */
export interface Option {
  readonly name: string;
  readonly takes?: string;
  readonly help: string;
}

export interface Parsed {
  readonly plain: readonly string[];
  /** Every value given, in order, by the option's name; a switch that is there has none. */
  readonly options: Readonly<Record<string, readonly string[]>>;
}

/** Take the arguments of a command apart. `--name value` and `--name=value` are alike; after `--` nothing is an option. Errors: `UsageError`. */
export function parse(given: readonly string[], known: readonly Option[], command: string): Parsed {
  const plain: string[] = [];
  const options: Record<string, string[]> = {};
  for (let i = 0; i < given.length; i++) {
    const one = given[i];
    if (one === "--") {
      plain.push(...given.slice(i + 1));
      break;
    }
    // "-" stands for standard input or output.
    if (!one.startsWith("-") || one === "-") {
      plain.push(one);
      continue;
    }
    const [, name, written] = /^--?([^=]+)(?:=(.*))?$/s.exec(one) ?? [];
    const option = known.find((each) => each.name === name && one.startsWith("--"));
    if (!option)
      throw new UsageError(
        `"${one}" is no option of ${command}.${didYouMean(
          `--${name}`,
          known.map((each) => `--${each.name}`),
        )}`,
        command,
      );
    options[option.name] ??= [];
    if (!option.takes) {
      if (written !== undefined) throw new UsageError(`--${option.name} takes no value.`, command);
      continue;
    }
    const value = written ?? given[++i];
    if (value === undefined) throw new UsageError(`--${option.name} needs a value: --${option.name} ${option.takes}.`, command);
    options[option.name].push(value);
  }
  return { plain, options };
}
