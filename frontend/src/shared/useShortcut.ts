import { useHotkeys } from "react-hotkeys-hook";

/** A key of a page: works wherever nothing is being typed, on the price handle too. */
export function useShortcut(
  keys: string | readonly string[],
  act: (event: KeyboardEvent) => void,
  useKey = false,
) {
  useHotkeys(keys, act, { enableOnFormTags: ["slider"], useKey });
}
