import { useCallback, useState } from "react";

const DRAFT = "tobbix-draft-";

/** The name under which a draft of this tab is kept. */
export function draftName(name: string): string {
  return `${DRAFT}${name}`;
}

/** Forget every draft of this tab: the owner has signed out. */
export function forgetDrafts(): void {
  for (const key of Object.keys(sessionStorage)) if (key.startsWith(DRAFT)) sessionStorage.removeItem(key);
}

/** A form's state that outlives a reload, until it is forgotten; it is set to a value, or by what stood there. */
export function useDraft<T>(
  name: string,
  empty: T,
): [T, (value: T | ((before: T) => T)) => void, () => void] {
  const key = draftName(name);
  const [value, setValue] = useState<T>(() => {
    try {
      return (JSON.parse(sessionStorage.getItem(key) ?? "null") as T | null) ?? empty;
    } catch {
      return empty; // a draft of an older shape is no draft
    }
  });
  const set = useCallback(
    (said: T | ((before: T) => T)) =>
      setValue((before) => {
        const fresh = said instanceof Function ? said(before) : said;
        sessionStorage.setItem(key, JSON.stringify(fresh));
        return fresh;
      }),
    [key],
  );
  const forget = useCallback(() => sessionStorage.removeItem(key), [key]);
  return [value, set, forget];
}
