import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { problemOf, ProblemError } from "../api/client";
import { EntryQueue } from "./queue";

const down = () => new ProblemError(problemOf(undefined, 0, ""));
const refused = (words: string) =>
  new ProblemError({ ...problemOf(undefined, 422, ""), faults: [{ field: "find", message: words }] });

beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  vi.useRealTimers();
  sessionStorage.clear();
});

/** A server that keeps what it was sent, once per key; it takes its time and may lose answers before or after. */
function makeServer(delay: number, loses: (call: number) => "before" | "after" | null) {
  const done = new Map<string, string>();
  let calls = 0;
  const send = async (what: string, key: string) => {
    calls += 1;
    const loss = loses(calls);
    await new Promise((resolve) => setTimeout(resolve, delay));
    if (loss === "before") throw down();
    if (what === "wrong") throw refused("no card is called so");
    if (!done.has(key)) done.set(key, what);
    if (loss === "after") throw down();
    return [...done.values()];
  };
  return { send, done: () => [...done.values()] };
}

test.each([
  ["at once", 0, 167],
  ["after 300 ms", 300, 167],
  ["after 2 s", 2_000, 20],
])(
  "no entry is lost, doubled or out of order when answers come %s and every third fails",
  async (_, delay, many) => {
    const server = makeServer(delay, (call) => (call % 3 ? null : call % 2 ? "before" : "after"));
    const answers: string[][] = [];
    const queue = new EntryQueue<string, string[]>({
      send: server.send,
      answered: (all) => answers.push(all),
    });
    const typed = Array.from({ length: many }, (_entry, index) => `card ${index}`);
    for (const text of typed) {
      queue.add(text);
      await vi.advanceTimersByTimeAsync(180); // three keys at 60 ms each
    }
    expect(queue.entries().every((entry) => entry.state !== "refused")).toBe(true);
    await vi.advanceTimersByTimeAsync(3_000_000);
    expect(server.done()).toEqual(typed);
    expect(queue.entries()).toEqual([]);
    expect(answers.at(-1)).toEqual(typed);
  },
);

test("a refusal keeps its words and holds nothing up; what was never sent can be dropped", async () => {
  const server = makeServer(100, () => null);
  const queue = new EntryQueue<string, string[]>({ send: server.send, answered: () => undefined });
  queue.add("wrong");
  const last = queue.add("95");
  const gone = queue.add("96");
  expect(queue.drop(gone.key)).toBe(true);
  await vi.advanceTimersByTimeAsync(150);
  expect(queue.drop(last.key)).toBe(false); // it is on its way: it can only be taken back
  await vi.advanceTimersByTimeAsync(100);
  expect(server.done()).toEqual(["95"]);
  expect(queue.entries()).toMatchObject([{ what: "wrong", state: "refused", fault: "no card is called so" }]);
  expect(queue.drop(queue.entries()[0]?.key ?? "")).toBe(true);
});

test("what a reload leaves behind is sent under the key it had", async () => {
  const keep = { name: "entries", store: sessionStorage };
  const silent = makeServer(1_000_000, () => null);
  const first = new EntryQueue<string, string[]>({ send: silent.send, answered: () => undefined, keep });
  const keys = ["44", "45"].map((what) => first.add(what).key);
  const sent: string[] = [];
  const second = new EntryQueue<string, string[]>({
    send: (_what, key) => Promise.resolve(sent).then((all) => (all.push(key), [])),
    answered: () => undefined,
    keep,
  });
  await vi.advanceTimersByTimeAsync(10);
  expect(sent).toEqual(keys);
  expect(second.entries()).toEqual([]);
  expect(sessionStorage.getItem("entries")).toBeNull();
});
