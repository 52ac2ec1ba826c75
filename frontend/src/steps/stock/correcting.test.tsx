import { QueryClient } from "@tanstack/react-query";
import { act, renderHook } from "@testing-library/react";
import { client, type Schemas } from "../../shared/api/client";
import { around } from "../../shared/around";
import { forgetHistory, lastDone, takeBack } from "../../shared/history";
import { useCorrections } from "./correcting";

type Item = Schemas["ItemOut"];
type Asked = { body: Record<string, unknown> };

const ITEM = { number: 5, name: "a card", version: 3, place: "box 1", condition: null } as unknown as Item;

function open() {
  const queries = new QueryClient();
  const sent: Record<string, unknown>[] = [];
  let stands = 3;
  vi.spyOn(client, "PUT").mockImplementation(((_path: string, { body }: Asked) => {
    sent.push(body);
    stands += 1;
    queries.setQueryData(["items", "one", "5"], { ...ITEM, version: stands });
    return Promise.resolve({ data: undefined, response: new Response() });
  }) as never);
  return { queries, sent, correct: renderHook(() => useCorrections(), { wrapper: around(queries) }).result };
}

describe("corrections of things in a list", () => {
  afterEach(() => {
    forgetHistory();
    vi.restoreAllMocks();
  });

  it("go out one after another, each on what the one before left, although both were typed on one row", async () => {
    const { sent, correct } = open();
    await act(() =>
      Promise.all([correct.current(ITEM, { place: "box 2" }), correct.current(ITEM, { condition: "LP" })]),
    );
    expect(sent).toEqual([
      { version: 3, place: "box 2" },
      { version: 4, condition: "LP" },
    ]);
  });

  it("name the newest version that a list of this window has shown", async () => {
    const { queries, sent, correct } = open();
    queries.setQueryData(["items", "", 0], { items: [{ ...ITEM, version: 9 }] });
    await act(() => correct.current(ITEM, { place: "box 2" }));
    expect(sent).toEqual([{ version: 9, place: "box 2" }]);
  });

  it("are taken back to what stood there before, nothing included, and touch no other field", async () => {
    const { sent, correct } = open();
    await act(() => correct.current(ITEM, { place: "box 2", condition: "LP" }));
    await act(async () => void (await takeBack(lastDone()!.number)));
    expect(sent[1]).toEqual({ version: 4, place: "box 1", condition: null });
  });
});
