import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback, useSyncExternalStore } from "react";
import { client, take, type Schemas } from "../../shared/api/client";
import { askAnew } from "../../shared/api/forget";
import { EntryQueue, type Entry } from "../../shared/entries/queue";
import { LEFT } from "../../shared/leaving";
import { draftName } from "../../shared/useDraft";
import { keyed } from "../../shared/useOnce";
import type { Entered } from "./entering";

export type Typed = Schemas["CardEntryIn"];

/** Something that was entered, with when; `gone`: it was taken back since. */
export interface Done extends Entered {
  at: number;
  gone: boolean;
}

interface Desk {
  queue: EntryQueue<Typed, Entered>;
  done: readonly Done[];
}

const TOUCHED = ["items", "goals", "sorting", "books", "desk"];

// One queue for the tab, whichever page stands: what was typed is sent even if the page is left.
let desk: Desk | null = null;
const listeners = new Set<() => void>();
window.addEventListener(LEFT, () => (desk = null));

function tell(done: readonly Done[]): void {
  if (desk) desk = { ...desk, done };
  listeners.forEach((listener) => listener());
}

function deskOf(queries: QueryClient): Desk {
  if (desk) return desk;
  const queue = new EntryQueue<Typed, Entered>({
    send: (body, key) => take(client.POST("/api/sorting/cards", { body, ...keyed(key) })),
    answered: (answer) => {
      tell([{ ...answer, at: Date.now(), gone: false }, ...(desk?.done ?? [])]);
      if (answer.new_card) void askAnew(queries, ["sorting sets"]);
      if (queue.entries().length <= 1) void askAnew(queries, TOUCHED);
    },
    keep: { name: draftName("sorting entries"), store: sessionStorage },
  });
  desk = { queue, done: [] };
  return desk;
}

export interface Sending {
  entries: readonly Entry<Typed>[];
  held: number;
  done: readonly Done[];
  add: (what: Typed) => void;
  drop: (key: string) => boolean;
  hurry: () => void;
  /** Take what was entered back by its entry; what it said. */
  takeBack: (entry: number) => Promise<string>;
}

/** What is entered, on its way and done, newest first. */
export function useSending(): Sending {
  const queries = useQueryClient();
  const { queue } = deskOf(queries);
  const subscribe = useCallback((notify: () => void) => {
    listeners.add(notify);
    return () => void listeners.delete(notify);
  }, []);
  const done = useSyncExternalStore(subscribe, () => deskOf(queries).done);
  const entries = useSyncExternalStore(queue.subscribe, queue.entries);
  const held = useSyncExternalStore(queue.subscribe, queue.held);
  const takeBack = async (entry: number) => {
    const path = { number: entry };
    const { text } = await take(client.POST("/api/entries/{number}/undo", { params: { path } }));
    tell(deskOf(queries).done.map((it) => (it.entry === entry ? { ...it, gone: true } : it)));
    void askAnew(queries, TOUCHED);
    return text;
  };
  return {
    entries,
    held,
    done,
    add: (what) => void queue.add(what),
    drop: (key) => queue.drop(key),
    hurry: queue.hurry,
    takeBack,
  };
}
