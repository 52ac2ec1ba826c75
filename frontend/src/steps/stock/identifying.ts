/** What was seen of a card, in the order in which it was asked: about what, and what. */
export type Answers = readonly (readonly [string, string])[];

/** Without the last answer. */
export function back(answers: Answers): Answers {
  return answers.slice(0, -1);
}

const KEYS = "asdfghjklqwertzuiop";

/** The key of an answer by its place, null past the last key; -1 is "I cannot tell". Digits stay free for the frame. */
export function keyOf(at: number): string | null {
  return at < 0 ? "x" : (KEYS[at] ?? null);
}
