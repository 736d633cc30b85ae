import type { AnimationListed, ReadChoices } from "@kneader/core";
import { create } from "zustand";

type Rest = NonNullable<ReadChoices["rest"]>;

/** A file that holds more than one shot could, and what is to be chosen about it. */
export interface Choosable {
  readonly file: string;
  readonly animations: readonly AnimationListed[];
  /** Rest poses that differ, how the nodes stand first. */
  readonly rests: readonly Rest[];
  /** Name of the shot that is open, when its character could take the motion. */
  readonly open: string | null;
}

/** What becomes of the animations that were chosen. */
export type TakenAs = "shots" | "actions" | "onto";

export interface Chosen {
  /** Numbers of animations; empty where the file has none. */
  readonly animations: readonly number[];
  readonly as: TakenAs;
  readonly rest: Rest;
}

interface Asking {
  readonly asked: Choosable | null;
  readonly answer: (chosen: Chosen | null) => void;
}

/** The question that stands open, if one does. */
export const useAnimationChoice = create<Asking>(() => ({ asked: null, answer: () => undefined }));

/** Ask what to open of a file; null when it was given up. */
export function chooseAnimations(asked: Choosable): Promise<Chosen | null> {
  return new Promise((resolve) => {
    useAnimationChoice.setState({
      asked,
      answer: (chosen) => {
        useAnimationChoice.setState({ asked: null });
        resolve(chosen);
      },
    });
  });
}
