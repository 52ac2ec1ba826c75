import { QueryClient } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import { currentToken } from "../shared/api/client";
import { around, Refused, serverThat } from "../shared/around";
import { LEFT } from "../shared/leaving";
import { useDraft } from "../shared/useDraft";
import { leave, useSession, useSignIn, useSignOut, useStays } from "./session";

const session = (signed_in: boolean, token: string) => ({ signed_in, token, owner: signed_in ? "me" : null });

function keepDraft(words: string) {
  const { result } = renderHook(() => useDraft("purchase", ""));
  act(() => result.current[1](words));
}
const drafts = () => Object.keys(sessionStorage).length;

describe("who is signed in", () => {
  beforeEach(() => sessionStorage.clear());
  afterEach(() => vi.restoreAllMocks());

  it("is let in with the token of now: another tab may have left an old one behind", async () => {
    const asked = serverThat((method) => session(method === "POST", method === "POST" ? "of mine" : "fresh"));
    const { result } = renderHook(() => useSignIn(), { wrapper: around() });
    await act(async () => void (await result.current.mutateAsync("lamp over the water")));
    expect(asked.map((it) => it.method)).toEqual(["GET", "POST"]);
    expect(currentToken()).toBe("of mine");
  });

  it("stays who it was when the passphrase is wrong, and what is typed elsewhere stays too", async () => {
    serverThat((method) =>
      method === "POST" ? new Refused({}, 401, "That is not it.") : session(false, "t"),
    );
    keepDraft("a shoebox");
    const { result } = renderHook(() => useSignIn(), { wrapper: around() });
    await act(async () => void (await result.current.mutateAsync("wrong").catch(() => null)));
    await waitFor(() => expect(result.current.isError).toBe(true));
    expect(drafts()).toBe(1);
  });

  it("leaves nothing behind: drafts and answers go, in the tabs beside it too", async () => {
    serverThat((method) => session(method !== "DELETE", "t"));
    const queries = new QueryClient();
    queries.setQueryData(["books"], "secret");
    keepDraft("a shoebox");
    const { result } = renderHook(() => useSignOut(), { wrapper: around(queries) });
    await act(async () => void (await result.current.mutateAsync()));
    expect(drafts()).toBe(0);
    expect(queries.getQueryData(["books"])).toBeUndefined();
    expect(queries.getQueryData(["session"])).toMatchObject({ signed_in: false });
    expect(localStorage.getItem(LEFT)).not.toBeNull(); // which the others hear of
  });
});

describe("the page of a session that has ended", () => {
  afterEach(() => vi.restoreAllMocks());

  it("stays with what is typed when the session just ended, and goes when the owner left, here or in another tab", () => {
    serverThat(() => session(false, "t"));
    const open = () =>
      renderHook(({ signedIn }) => useStays(signedIn), {
        initialProps: { signedIn: true },
        wrapper: around(),
      });
    const here = open();
    here.rerender({ signedIn: false });
    expect(here.result.current).toBe(true);
    act(() => leave());
    expect(here.result.current).toBe(false);
    here.unmount();

    const beside = open();
    beside.rerender({ signedIn: false });
    keepDraft("a shoebox");
    act(() => void window.dispatchEvent(new StorageEvent("storage", { key: "another" })));
    expect([beside.result.current, drafts()]).toEqual([true, 1]);
    act(() => void window.dispatchEvent(new StorageEvent("storage", { key: LEFT })));
    expect([beside.result.current, drafts()]).toEqual([false, 0]);
  });

  it("is not kept where nobody was signed in before", () => {
    const { result } = renderHook(() => useStays(false), { wrapper: around() });
    expect(result.current).toBe(false);
  });

  it("is told once the session is asked for again", async () => {
    serverThat(() => session(true, "newer"));
    const { result } = renderHook(() => useSession(), { wrapper: around() });
    await waitFor(() => expect(result.current.data?.signed_in).toBe(true));
    expect(currentToken()).toBe("newer");
  });
});
