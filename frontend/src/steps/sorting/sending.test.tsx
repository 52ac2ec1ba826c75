import { QueryClient } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import { around, Refused, serverThat } from "../../shared/around";
import { LEFT } from "../../shared/leaving";
import { useSending, type Typed } from "./sending";

const typed = (number: string) => ({ release: "r", line: "base", number }) as unknown as Typed;

function open() {
  const queries = new QueryClient();
  const anew = vi.spyOn(queries, "invalidateQueries");
  const { result } = renderHook(() => useSending(), { wrapper: around(queries) });
  return { sending: result, anew: () => anew.mock.calls.map(([filters]) => filters?.queryKey?.[0]) };
}

/** A stock that knows the numbers up to 9; each entry has a number of its own. */
function stock() {
  let entry = 100;
  return serverThat((_method, path, { body }) => {
    if (path.endsWith("/undo")) return { text: "card 1 is out again" };
    const { number } = body as { number: string };
    if (Number(number) > 9) return new Refused({ number: "there is no such number" });
    entry += 1;
    return { entry, item: 5, new_card: number === "9" };
  });
}

describe("cards that are entered one after another", () => {
  beforeEach(() => sessionStorage.clear());
  afterEach(() => {
    window.dispatchEvent(new Event(LEFT));
    vi.restoreAllMocks();
  });

  it("are done newest first, and what they changed is asked anew once, when the last one is through", async () => {
    stock();
    const { sending, anew } = open();
    act(() => ["1", "2", "3"].forEach((number) => sending.current.add(typed(number))));
    await waitFor(() => expect(sending.current.entries).toEqual([]));
    expect(sending.current.done.map((it) => it.entry)).toEqual([103, 102, 101]);
    expect(anew().filter((it) => it === "items")).toHaveLength(1);
    act(() => sending.current.add(typed("9")));
    await waitFor(() => expect(anew()).toContain("sorting sets")); // a card that its set did not have
  });

  it("are taken back one by one, and stay on the list as gone", async () => {
    const asked = stock();
    const { sending } = open();
    act(() => sending.current.add(typed("1")));
    await waitFor(() => expect(sending.current.done).toHaveLength(1));
    await act(async () =>
      expect(await sending.current.takeBack(sending.current.done[0]!.entry)).toBe("card 1 is out again"),
    );
    expect(asked.at(-1)!.sent.params).toEqual({ path: { number: 101 } });
    expect(sending.current.done[0]!.gone).toBe(true);
  });

  it("hold what is refused for its mending, and let the others through", async () => {
    stock();
    const { sending } = open();
    act(() => ["1", "12", "2"].forEach((number) => sending.current.add(typed(number))));
    await waitFor(() => expect(sending.current.done).toHaveLength(2));
    expect(sending.current.entries).toMatchObject([{ state: "refused", fault: "there is no such number" }]);
    act(() => void sending.current.drop(sending.current.entries[0]!.key));
    expect(sending.current.entries).toEqual([]);
  });

  it("outlive the page, and go when the owner leaves", async () => {
    let through = () => {};
    serverThat(() => new Promise((resolve) => (through = () => resolve({ entry: 1 }))));
    const { sending } = open();
    act(() => sending.current.add(typed("1")));
    expect(sessionStorage.length).toBe(1);
    const again = open();
    expect(again.sending.current.entries).toHaveLength(1); // one queue, whichever page stands
    await act(async () => through());
    await waitFor(() => expect(again.sending.current.done).toHaveLength(1));
    act(() => void window.dispatchEvent(new Event(LEFT)));
    expect(open().sending.current.done).toEqual([]);
  });
});
