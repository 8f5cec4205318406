import { isNear } from "../../core/search/near.ts";
import { plain, wordsOf } from "../../core/search/plain.ts";

/** Something that can be gone to or done by its name. */
export interface Goal {
  readonly name: string;
  /** What else people call it. */
  readonly also?: string;
  readonly go: () => void;
}

/** How many goals are shown at most. */
const MOST = 4;
/** From so many letters on a typing error is forgiven. */
const NEAR = 4;

/** The goals what was typed means: each word of it begins one of theirs, or is one typing error away from it. */
export function goalsFor(typed: string, goals: readonly Goal[]): readonly Goal[] {
  const words = wordsOf(plain(typed));
  if (words.length === 0) return [];
  const fits = ({ name, also = "" }: Goal, near: boolean) => {
    const theirs = wordsOf(plain(`${name} ${also}`));
    return words.every((word) =>
      theirs.some((t) => t.startsWith(word) || (near && word.length >= NEAR && isNear(word, t))),
    );
  };
  const exact = goals.filter((goal) => fits(goal, false));
  return (exact.length > 0 ? exact : goals.filter((goal) => fits(goal, true))).slice(0, MOST);
}
