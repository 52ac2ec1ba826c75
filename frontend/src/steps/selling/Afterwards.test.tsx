import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { around, Refused, serverThat } from "../../shared/around";
import { Afterwards } from "./Afterwards";
import type { Order } from "./queries";

const line = (item: number) => ({ item, name: `card ${item}`, price: "10.00", state: "sold", place: null });
const ORDER = {
  number: 12, stage: "sent", buyer: "Tove Maribel", complaint: null, claim_until: null, parcels: [],
  lines: [line(1), line(2), { ...line(3), state: "held" }],
} as unknown as Order; // prettier-ignore

const open = (order = ORDER) => render(<Afterwards data={order} />, { wrapper: around() });
function write(label: string, value: string) {
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
  fireEvent.blur(screen.getByLabelText(label));
}
const press = (words: string) => fireEvent.click(screen.getByText(words));

describe("after the post", () => {
  afterEach(() => vi.restoreAllMocks());

  it("pays back for the cards that are named; what is wrong is said at its own card, and nothing typed is lost", async () => {
    const asked = serverThat((_method, path) =>
      path.endsWith("/refunds") ? new Refused({ "lines[0].price": "is more than was paid" }) : {},
    );
    open();
    expect(screen.queryByLabelText("Back for card 3")).toBeNull(); // it is back already
    write("Back for card 2", "12,50");
    fireEvent.click(screen.getByLabelText("it comes back to me"));
    press("Pay back for 1");
    expect(await screen.findByText("is more than was paid")).toBeVisible();
    expect(screen.queryByRole("alert")).toBeNull(); // said once
    expect(asked[0]!.sent.body).toMatchObject({ lines: [{ item: 2, price: "12.50" }], returned: true });
    expect(screen.getByLabelText("Back for card 2")).toHaveAttribute("aria-invalid", "true");
    expect(screen.getByLabelText("Back for card 1")).toHaveAttribute("aria-invalid", "false");
    expect(screen.getByLabelText("Back for card 2")).toHaveValue("12,50");
  });

  it("is settled once it is paid back; the next one begins empty", async () => {
    serverThat(() => ({}));
    open();
    write("Back for card 1", "4");
    press("Pay back for 1");
    expect(await screen.findByText("It is paid back.")).toBeVisible();
    await waitFor(() => expect(screen.getByLabelText("Back for card 1")).toHaveValue(""));
  });

  it("asks for a day that can be read before anything is sent", async () => {
    const asked = serverThat(() => ({}));
    open();
    write("Arrived on", "soon");
    expect(screen.getByText("It arrived")).toBeDisabled();
    expect(screen.getByText("write a day like 3 Nov 2026")).toBeVisible();
    write("Arrived on", "27 Nov 2026");
    press("It arrived");
    expect(await screen.findByText("It arrived.")).toBeVisible();
    expect(asked.at(-1)).toMatchObject({
      path: "/api/orders/{number}/arrived",
      sent: { body: { day: "2026-11-27" } },
    });
  });

  it("keeps what the buyer complains of until it is noted, and offers to settle it", async () => {
    const asked = serverThat(() => ({}));
    open({ ...ORDER, complaint: "a corner is bent" } as Order);
    expect(screen.getByText(/Tove Maribel complains: a corner is bent/)).toBeVisible();
    press("It is settled");
    expect(await screen.findByText("Noted.")).toBeVisible();
    expect(asked[0]!.sent.body).toEqual({ complaint: null });
  });
});
