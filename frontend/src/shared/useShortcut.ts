import { useSyncExternalStore } from "react";
import { useHotkeys } from "react-hotkeys-hook";

const STORED = "tobbix-single-keys";
const CHANGED = "tobbix-single-keys-changed";

function singleKeysOn(): boolean {
  return localStorage.getItem(STORED) !== "off";
}

function subscribe(notify: () => void): () => void {
  const events = [CHANGED, "storage"];
  events.forEach((name) => window.addEventListener(name, notify));
  return () => events.forEach((name) => window.removeEventListener(name, notify));
}

/** Whether single keys act as shortcuts, and the switch for it: speech input may press them by mistake. */
export function useSingleKeys(): [boolean, (on: boolean) => void] {
  const on = useSyncExternalStore(subscribe, singleKeysOn);
  const set = (wanted: boolean) => {
    localStorage.setItem(STORED, wanted ? "on" : "off");
    window.dispatchEvent(new Event(CHANGED));
  };
  return [on, set];
}

/** A single key belongs to whoever is typing: a field, or a cell of a grid, which a key begins to edit. */
function belongsElsewhere(event: KeyboardEvent): boolean {
  if (event.ctrlKey || event.metaKey) return false;
  return (
    !singleKeysOn() || (event.target instanceof Element && event.target.closest('[role="grid"]') !== null)
  );
}

/** A key of a page: works wherever nothing is being typed, on the price handle too. */
export function useShortcut(keys: string | readonly string[], act: (event: KeyboardEvent) => void) {
  useHotkeys(keys, act, { enableOnFormTags: ["slider"], ignoreEventWhen: belongsElsewhere });
}
