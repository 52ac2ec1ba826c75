import { expect, test } from "vitest";
import { lastToTakeBack, lookAhead, readTyped, type Entered, type Opening, type Pending } from "./entering";

let turn = 0;
const entry = (what: Entered, state: Pending["state"] = "waiting"): Pending => ({
  key: String((turn += 1)),
  what,
  state,
  sent: 0,
});
const card = (pack: number, typed: string, line?: string): Entered => ({
  kind: "card",
  pack,
  typed,
  place: 1,
  serial: "",
  flaw: "",
  ...(line ? { line } : {}),
});
const pull = (number: number, pack: number, line: string, count = 1) => ({
  number, pack, line, count, line_name: line, card: "1", subject: "", serial: null, flaw: null, worth: null,
}); // prettier-ignore

function session(current: number, pulls: Opening["pulls"]): Opening {
  const lines = [
    { id: "base", name: "Base", print_run: null, is_base: true },
    { id: "fog", name: "Fog", print_run: null, is_base: false },
  ];
  return { current_pack: current, packs: 3, pack_sizes: [3, 3, 2], gone: 0, boxes: 1, pulls, lines } as never;
}

test("a pack that is full moves on before the server says so", () => {
  const data = session(1, [pull(1, 1, "base")]);
  const two = [entry(card(1, "44")), entry(card(1, "f2", "fog"))];
  expect(lookAhead(data, two.slice(0, 1))).toMatchObject({ pack: 1, logged: 2, size: 3 });
  const ahead = lookAhead(data, two);
  expect(ahead).toMatchObject({ pack: 2, logged: 0, size: 3 });
  expect(ahead.byPack.get(1)).toEqual({ cards: 3, hits: 1 });
});

test("what was refused counts for nothing; the rest of a pack fills it", () => {
  const data = session(1, [pull(1, 1, "fog")]);
  expect(lookAhead(data, [entry(card(1, "x"), "refused")])).toMatchObject({ pack: 1, logged: 1 });
  const ahead = lookAhead(data, [entry({ kind: "rest", pack: 1, next: 2 })]);
  expect(ahead.pack).toBe(2);
  expect(ahead.byPack.get(1)).toEqual({ cards: 3, hits: 1 });
});

test("taking back returns to the pack of what is taken back, sent or not", () => {
  const data = session(2, [pull(1, 1, "base", 3)]);
  expect(lookAhead(data, [entry({ kind: "takeBack", pull: 1 })])).toMatchObject({ pack: 1, logged: 0 });
  const first = entry(card(2, "44"));
  const ahead = lookAhead(data, [first, entry({ kind: "takeBack", of: first.key })]);
  expect(ahead).toMatchObject({ pack: 2, logged: 0, pending: [] });
});

test("the last thing that stands is taken back: dropped if it was never sent, by its entry or its pull else", () => {
  const data = session(1, [pull(7, 1, "base"), pull(8, 1, "base")]);
  const loose = entry(card(1, "44"));
  expect(lastToTakeBack(data, [loose])).toMatchObject({ drop: loose.key });
  const sent: Pending = { ...entry(card(1, "45"), "sending"), sent: 1 };
  const back = { kind: "takeBack", of: sent.key } as const;
  expect(lastToTakeBack(data, [sent])).toEqual({ drop: null, what: back });
  expect(lastToTakeBack(data, [sent, entry(back)]).what).toEqual({ kind: "takeBack", pull: 8 });
  const eight = entry({ kind: "takeBack", pull: 8 });
  expect(lastToTakeBack(data, [entry(card(1, "x"), "refused"), eight]).what).toMatchObject({ pull: 7 });
  expect(lastToTakeBack(session(1, []), [])).toEqual({ drop: null, what: null });
});

test("a digit after a number says which of that number, after a word it does not", () => {
  expect(readTyped("44 2")).toEqual({ find: "44", place: 2 });
  expect(readTyped("KH5 1 ")).toEqual({ find: "KH5", place: 1 });
  expect(readTyped(" fog 2")).toEqual({ find: "fog 2", place: 0 });
  expect(readTyped("44")).toEqual({ find: "44", place: 0 });
});
