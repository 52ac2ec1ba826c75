import { QueryClient } from "@tanstack/react-query";
import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { client } from "./api/client";
import { around } from "./around";
import { TakeBack } from "./TakeBack";

const BOOKED = { text: "lost: a box", taken_back: false, can_be_taken_back: true };

function show(entry: number | null, booked: typeof BOOKED) {
  const queries = new QueryClient();
  queries.setQueryData(["books"], "as it was");
  render(<TakeBack entry={entry} booked={booked} />, { wrapper: around(queries) });
  return queries;
}

function answers(reply: object) {
  return vi.spyOn(client, "POST").mockImplementation(() => Promise.resolve(reply) as never);
}

describe("a row's way back", () => {
  afterEach(() => vi.restoreAllMocks());

  it("takes back what was booked, says so, and has asked anew what that may have changed", async () => {
    const post = answers({ data: { text: "lost: a box" }, response: new Response() });
    const queries = show(7, BOOKED);
    fireEvent.click(screen.getByRole("button", { name: "Take back: lost: a box" }));
    expect(await screen.findByText("Taken back: lost: a box.")).toBeInTheDocument();
    expect(post.mock.calls[0]).toEqual(["/api/entries/{number}/undo", { params: { path: { number: 7 } } }]);
    await waitFor(() => expect(queries.getQueryState(["books"])?.isInvalidated).toBe(true));
  });

  it("says what stands in the way, as a sentence", async () => {
    const detail = "this stays, since something came after it: a box: “sold”. Take that back first.";
    const problem = { type: "about:blank", title: "Conflict", status: 409, detail, faults: [], flag: null };
    answers({ error: problem, response: new Response(null, { status: 409 }) });
    show(7, BOOKED);
    fireEvent.click(screen.getByRole("button", { name: /Take back/ }));
    expect(await screen.findByRole("alert")).toHaveTextContent(/^This stays, since something came after it/);
    await waitFor(() => expect(screen.getByRole("button", { name: /Take back/ })).toBeEnabled());
  });

  it("offers nothing for what is back already, or was no entry", () => {
    show(7, { ...BOOKED, taken_back: true, can_be_taken_back: false });
    expect(screen.getByText("taken back")).toBeInTheDocument();
    show(null, BOOKED);
    expect(screen.queryByRole("button")).toBeNull();
  });
});
