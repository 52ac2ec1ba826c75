import { QueryClient } from "@tanstack/react-query";
import { act, renderHook, screen, waitFor } from "@testing-library/react";
import { problemOf, ProblemError } from "./api/client";
import { around } from "./around";
import { forgetHistory, lastDone, takeBack } from "./history";
import { useAct } from "./useAct";

const refused = (status: number, words: string) =>
  new ProblemError({ ...problemOf(undefined, status, words), detail: words });

function open<V, R>(does: (value: V) => Promise<R>, told: Parameters<typeof useAct<V, R>>[1]) {
  const queries = new QueryClient();
  const anew = vi.spyOn(queries, "invalidateQueries");
  const { result } = renderHook(() => useAct(does, told), { wrapper: around(queries) });
  return { act: result, asked: () => anew.mock.calls.map(([filters]) => filters?.queryKey?.[0]) };
}

describe("something that is done", () => {
  afterEach(() => forgetHistory());

  it("is said, is in the history, and has what it may have changed asked anew, when it is taken back too", async () => {
    const back = vi.fn(() => Promise.resolve());
    const it = open((name: string) => Promise.resolve({ name }), {
      keys: ["items"],
      text: ({ name }) => `Kept: ${name}.`,
      undo: back,
    });
    await act(async () => void (await it.act.current.mutateAsync("a card")));
    expect(screen.getByText("Kept: a card.")).toBeInTheDocument();
    expect(it.asked()).toEqual(["items", "desk"]);
    await act(async () => void (await takeBack(lastDone()!.number)));
    expect(back).toHaveBeenCalledExactlyOnceWith("a card", { name: "a card" });
    expect(it.asked()).toEqual(["items", "desk", "items", "desk"]);
    expect(lastDone()).toBeNull();
  });

  it("is refused aloud, or quietly where its form shows it, but for what another window changed", async () => {
    const loud = open(() => Promise.reject(refused(422, "Write a day.")), { keys: [] });
    act(() => loud.act.current.mutate(undefined));
    expect(await screen.findByText("Write a day.")).toBeInTheDocument();
    const quiet = open(() => Promise.reject(refused(422, "Write an amount.")), {
      keys: ["items"],
      quiet: true,
    });
    act(() => quiet.act.current.mutate(undefined));
    await waitFor(() => expect(quiet.act.current.isError).toBe(true));
    expect(screen.queryByText("Write an amount.")).toBeNull();
    expect(quiet.asked()).toEqual(["items"]); // what is shown may be old: that is why it was refused
    const changed = open(() => Promise.reject(refused(409, "It was changed meanwhile.")), {
      keys: [],
      quiet: true,
    });
    act(() => changed.act.current.mutate(undefined));
    expect(await screen.findByText("It was changed meanwhile.")).toBeInTheDocument();
  });
});
