import { act, renderHook, waitFor } from "@testing-library/react";
import { client } from "../../shared/api/client";
import { around } from "../../shared/around";
import { LEFT } from "../../shared/leaving";
import { useSending } from "./sending";

type Asked = { params: { path: { number: number; pull?: number } }; body?: { find?: string } };

/** A session that knows the cards of a list; each that is logged gets a number of its own. */
function makeServer(known: readonly string[]) {
  let last = 40;
  const pulls: { number: number; subject: string }[] = [];
  const answer = () => ({ data: { number: 7, pulls: [...pulls] }, response: new Response() });
  vi.spyOn(client, "GET").mockImplementation((() => Promise.resolve(answer())) as never);
  vi.spyOn(client, "POST").mockImplementation(((_path: string, { body }: Asked) => {
    const subject = body?.find ?? "";
    if (!known.includes(subject)) {
      const response = new Response(null, { status: 422 });
      const faults = [{ field: "find", message: "no card of this box is called so" }];
      return Promise.resolve({ error: { status: 422, detail: "", faults }, response });
    }
    last += 1;
    pulls.push({ number: last, subject });
    return Promise.resolve(answer());
  }) as never);
  const gone = vi.spyOn(client, "DELETE").mockImplementation(((_path: string, { params }: Asked) => {
    pulls.splice(
      pulls.findIndex((it) => it.number === params.path.pull),
      1,
    );
    return Promise.resolve(answer());
  }) as never);
  return { pulls, gone };
}

function open() {
  return renderHook(() => useSending(7), { wrapper: around() }).result;
}

const card = (typed: string) => ({ kind: "card", pack: 1, typed, place: 1, serial: "", flaw: "" }) as const;

describe("what is entered in a session and on its way", () => {
  beforeEach(() => sessionStorage.clear());
  afterEach(() => {
    window.dispatchEvent(new Event(LEFT));
    vi.restoreAllMocks();
  });

  it("takes the last entry back by what came of it, although it was still on its way when that was asked", async () => {
    const { pulls, gone } = makeServer(["Gull Point", "Tern Isle"]);
    const sending = open();
    act(() => {
      sending.current.add(card("Gull Point"));
      sending.current.add(card("Tern Isle"));
    });
    const second = sending.current.entries.at(-1)!;
    act(() => sending.current.add({ kind: "takeBack", of: second.key }));
    await waitFor(() => expect(sending.current.entries).toEqual([]));
    expect(pulls.map((it) => it.subject)).toEqual(["Gull Point"]);
    expect(gone).toHaveBeenCalledTimes(1);
  });

  it("drops what was refused when it is taken back: nothing came of it that could go", async () => {
    const { pulls, gone } = makeServer(["Gull Point"]);
    const sending = open();
    act(() => {
      sending.current.add(card("Gull Point"));
      sending.current.add(card("Nobody"));
    });
    const wrong = sending.current.entries.at(-1)!;
    await waitFor(() =>
      expect(sending.current.entries).toMatchObject([
        { state: "refused", fault: "no card of this box is called so" },
      ]),
    );
    act(() => sending.current.add({ kind: "takeBack", of: wrong.key }));
    await waitFor(() => expect(sending.current.entries).toEqual([]));
    expect(pulls.map((it) => it.subject)).toEqual(["Gull Point"]);
    expect(gone).not.toHaveBeenCalled();
  });

  it("is one queue however often the page is opened", async () => {
    makeServer(["Gull Point"]);
    const first = open();
    const second = open();
    act(() => first.current.add(card("Gull Point")));
    expect(second.current.entries).toHaveLength(1);
    await waitFor(() => expect(second.current.entries).toEqual([]));
  });
});
