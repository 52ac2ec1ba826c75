import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback, useSyncExternalStore } from "react";
import { client, take } from "../../shared/api/client";
import { askAnew } from "../../shared/api/forget";
import { EntryQueue } from "../../shared/entries/queue";
import { LEFT } from "../../shared/leaving";
import { draftName } from "../../shared/useDraft";
import { keyed } from "../../shared/useOnce";
import type { Entered, Opening, Pending } from "./entering";

type Queue = EntryQueue<Entered, Opening>;

// One queue for a session, whichever page stands: what was typed is sent even if the page is left.
const queues = new Map<number, Queue>();
window.addEventListener(LEFT, () => queues.clear());

function send(number: number, what: Entered, key: string): Promise<Opening> {
  const params = { path: { number } };
  switch (what.kind) {
    case "card": {
      const { pack, line, number: card, typed: find, place } = what;
      const which = line && card !== undefined ? { line, number: card, place: 1 } : { find, place };
      const body = { pack, ...which, count: 1, serial: what.serial || null, flaw: what.flaw || null };
      return take(client.POST("/api/sessions/{number}/pulls", { params, body, ...keyed(key) }));
    }
    case "rest":
      return take(
        client.POST("/api/sessions/{number}/pack", {
          params,
          body: { pack: what.next, rest_of: what.pack },
          ...keyed(key),
        }),
      );
    case "turn":
      return take(
        client.POST("/api/sessions/{number}/pack", { params, body: { pack: what.pack }, ...keyed(key) }),
      );
    case "takeBack":
      // what was refused meanwhile, or found nothing to fill, left nothing that could be taken back
      return what.pull === undefined
        ? take(client.GET("/api/sessions/{number}", { params }))
        : take(
            client.DELETE("/api/sessions/{number}/pulls/{pull}", {
              params: { path: { number, pull: what.pull } },
              ...keyed(key),
            }),
          );
  }
}

function queueOf(number: number, queries: QueryClient): Queue {
  const known = queues.get(number);
  if (known) return known;
  const pulls = new Map<string, number>(); // what came of which entry
  const shown = () => queries.getQueryData<Opening>(["sessions", number])?.pulls ?? [];
  const made: Queue = new EntryQueue<Entered, Opening>({
    send: async (what, key) => {
      if (what.kind === "takeBack" && what.of !== undefined) {
        made.drop(what.of); // it was refused: nothing came of it
        return send(number, { kind: "takeBack", pull: pulls.get(what.of) }, key);
      }
      const before = new Set(shown().map((pull) => pull.number));
      const answer = await send(number, what, key);
      const fresh = answer.pulls.filter((pull) => !before.has(pull.number)).at(-1);
      if (fresh) pulls.set(key, fresh.number);
      return answer;
    },
    answered: async (answer) => {
      await queries.cancelQueries({ queryKey: ["sessions", number] }); // asked before this was done
      queries.setQueryData(["sessions", number], answer);
      if (made.entries().length <= 1) void askAnew(queries, ["desk"]);
    },
    keep: { name: draftName(`entries-${number}`), store: sessionStorage },
  });
  queues.set(number, made);
  return made;
}

export interface Sending {
  entries: readonly Pending[];
  /** How often the first of them failed so far: over 0, nobody answers. */
  held: number;
  add: (what: Entered) => void;
  drop: (key: string) => boolean;
  hurry: () => void;
}

/** What is entered in a session and still on its way. */
export function useSending(number: number): Sending {
  const queue = queueOf(number, useQueryClient());
  const entries = useSyncExternalStore(queue.subscribe, queue.entries);
  const held = useSyncExternalStore(queue.subscribe, queue.held);
  const add = useCallback((what: Entered) => void queue.add(what), [queue]);
  const drop = useCallback((key: string) => queue.drop(key), [queue]);
  return { entries, held, add, drop, hurry: queue.hurry };
}
