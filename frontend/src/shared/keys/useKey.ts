import { useEffect, useState, useSyncExternalStore } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { entriesAreTaken } from "./entries";

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

/** Whether something lies over the page and asks for an answer: a dialog, a menu, an open choice. */
export function isAsking(): boolean {
  return document.querySelector('.MuiModal-root:not(.MuiModal-hidden), [aria-modal="true"]') !== null;
}

/**
 * Whether a key belongs to something else than the page's keys: it is held down, a dialog is open, a word is being
 * composed, a cell of a grid would begin to be edited, or a digit is pressed where cards are entered by number.
 */
export function belongsElsewhere(event: KeyboardEvent): boolean {
  if (event.repeat || event.isComposing || event.defaultPrevented || isAsking()) return true;
  // AltGr is Ctrl and Alt on some systems: what it makes is a character like any
  const commands = (event.ctrlKey || event.metaKey) && !event.getModifierState("AltGraph");
  if (commands) return false;
  if (/^\d$/.test(event.key) && entriesAreTaken()) return true;
  return (
    !singleKeysOn() || (event.target instanceof Element && event.target.closest('[role="grid"]') !== null)
  );
}

const WORDLESS = new Set(["checkbox", "radio", "range", "button", "submit", "reset", "file", "color"]);

function takesWords(target: EventTarget | null): boolean {
  return target instanceof HTMLInputElement && !WORDLESS.has(target.type) && target.role !== "slider";
}

const wanted = new Map<string, symbol[]>();

/** Whether this is who has a set of keys: of several that want them, the one that came last. */
function useTurn(keys: string, on: boolean): () => boolean {
  const [me] = useState(() => Symbol(keys));
  useEffect(() => {
    if (!on) return undefined;
    wanted.set(keys, [...(wanted.get(keys) ?? []), me]);
    return () => {
      wanted.set(
        keys,
        (wanted.get(keys) ?? []).filter((other) => other !== me),
      );
    };
  }, [keys, me, on]);
  return () => wanted.get(keys)?.at(-1) === me;
}

/**
 * A key of a page, by the character that it makes, wherever it lies on the keyboard; "mod+z" is Ctrl or Cmd. It works
 * where nothing is being typed, on a slider too; of a page and its frame the page has it. What is registered is what the help shows, so long as the page stands.
 */
export function useKey(
  keys: string | readonly string[],
  what: string,
  act: (event: KeyboardEvent) => void,
  { on = true, shown }: { on?: boolean; shown?: string } = {},
): void {
  const all = typeof keys === "string" ? [keys] : keys;
  const isCharacter = all.every((key) => key.length === 1);
  const isMine = useTurn(all.join(" "), on);
  useHotkeys(all, act, {
    useKey: true,
    ignoreModifiers: isCharacter, // "?" needs Shift on one keyboard and none on another
    enableOnFormTags: ["slider", "input"], // a box to tick takes no words
    ignoreEventWhen: (event) =>
      !isMine() ||
      takesWords(event.target) ||
      belongsElsewhere(event) ||
      (isCharacter && (event.ctrlKey || event.metaKey) && !event.getModifierState("AltGraph")),
    // the browser would take back what was typed last into any field
    preventDefault: all.some((key) => key.startsWith("mod+")),
    delimiter: "\n", // a comma is a key as well
    splitKey: isCharacter ? "\r" : "+",
    sequenceSplitKey: "\t",
    enabled: on, // what does nothing now is not in the help either
    description: what,
    metadata: { shown: shown ?? all.map(showKey).join(" ") },
  });
}

function showKey(key: string): string {
  if (key.startsWith("mod+")) return `Ctrl ${key.slice(4).toUpperCase()}`;
  return key.toUpperCase();
}
