import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { around, Refused, serverThat } from "../../shared/around";
import { Returned } from "./Returned";
import type { Came, Submission } from "./submission";
import { Under } from "./Under";

const PARTS = ["centering", "corners", "edges", "surface"];
const card = (item: number, change: object = {}) => ({
  item, line: item, name: `card ${item}`, owner: null, cracked: false, grade: null, certificate: null, subgrades: null,
  state: "away", chances: { "10": 0.2, "9": 0.7, "8": 0.1 }, carried: null, value: null, ...change,
}); // prettier-ignore
const SUBMISSION = {
  number: 46, grader_name: "Plumbline", grader_currency: "USD", grades: ["10", "9", "8"], subgrades: PARTS,
  cards: [card(1), card(2), card(3, { state: "held", grade: "9", certificate: "77" })], state: "sent", stages: [],
  question: null, reference: "PL-46", tracking: null, sent_on: "2026-05-01", can_be_asked: true,
} as unknown as Submission; // prettier-ignore

function open(data: Submission = SUBMISSION) {
  const forget = vi.fn();
  function Page() {
    const [typed, setTyped] = useState<Record<number, Came>>({});
    return (
      <>
        <Under data={data} put={setTyped} />
        <Returned data={data} typed={typed} put={setTyped} forget={forget} />
      </>
    );
  }
  render(<Page />, { wrapper: around() });
  return forget;
}

const field = (label: string) => screen.getByLabelText(label);
const write = (label: string, value: string) => fireEvent.change(field(label), { target: { value } });
const press = (words: string) => fireEvent.click(screen.getByText(words));

describe("what came back of a submission", () => {
  beforeEach(() => sessionStorage.clear());
  afterEach(() => vi.restoreAllMocks());

  it("takes in the cards of which something is said; what is back already is not asked for", async () => {
    const asked = serverThat(() => ({ state: "sent" }));
    const forget = open();
    expect(screen.queryByLabelText("Grade of card 3")).toBeNull();
    expect(screen.getByText("Take in 0 cards")).toBeDisabled();
    write("Grade of card 1", "9 ");
    write("Subgrades (centering / corners / edges / surface) of card 1", "9/9/ 9 /10");
    write("What came of it, in words: of card 2", "Lost");
    press("Take in 2 cards");
    expect(await screen.findByText("Taken in.")).toBeVisible();
    expect(asked[0]).toMatchObject({ method: "POST", path: "/api/submissions/{number}/grades" });
    const { cards } = asked[0]!.sent.body as { cards: Record<string, unknown>[] };
    expect(cards.map((it) => [it.item, it.grade, it.lost])).toEqual([
      [1, "9", false],
      [2, null, true],
    ]);
    expect(cards[0]!.subgrades).toEqual({ centering: "9", corners: "9", edges: "9", surface: "10" });
    expect(forget).toHaveBeenCalledOnce();
    expect(field("Grade of card 1")).toHaveValue("");
  });

  it("says a wrong grade at its card and keeps all that was typed", async () => {
    serverThat(() => new Refused({ "cards.1.grade": "Plumbline gives no 12" }));
    const forget = open();
    write("Grade of card 1", "12");
    write("Grade of card 2", "9");
    press("Take in 2 cards");
    expect(await screen.findByText("Plumbline gives no 12")).toBeVisible();
    expect(field("Grade of card 1")).toHaveAttribute("aria-invalid", "true");
    expect(field("Grade of card 2")).toHaveAttribute("aria-invalid", "false");
    expect([field("Grade of card 1"), field("Grade of card 2")].map((it) => (it as HTMLInputElement).value)).toEqual([
      "12",
      "9",
    ]); // prettier-ignore
    expect(forget).not.toHaveBeenCalled();
  });

  it("says what belongs to no field under the button", async () => {
    const detail = "Two cards have the same certificate number.";
    serverThat(() => new Refused({ cards: "two cards have the same certificate number" }, 422, detail));
    open();
    write("Certificate of card 1", "5");
    press("Take in 1 card");
    expect(await screen.findByRole("alert")).toHaveTextContent("same certificate number");
  });

  it("is read from a pasted list", async () => {
    const back = { item: 2, grade: "10", certificate: "31", subgrades: null, words: "" };
    const asked = serverThat(() => ({ cards: [back] }));
    open();
    write("Or paste the list: number on the form, grade, certificate", "2 10 31");
    press("Read it into the fields above");
    await waitFor(() => expect(field("Grade of card 2")).toHaveValue("10"));
    expect(asked[0]!.sent.body).toEqual({ text: "2 10 31" });
    expect(field("Certificate of card 2")).toHaveValue("31");
    expect(screen.getByText("Take in 1 card")).toBeEnabled();
  });
});

describe("a grader that is asked", () => {
  const NEWS = {
    stage: "returned", question: null, parcels: [{ day: "2026-06-01", items: [1, 2] }],
    grades: [
      { item: 1, grade: "10", certificate: "61", subgrades: { centering: "10", corners: "10", edges: "9", surface: "10" }, words: "" },
      { item: 2, grade: null, certificate: null, subgrades: null, words: "refused: evidence of trimming" },
    ],
    bill: [{ kind: "service", name: "Standard, 1 x 25", amount: "25", over: [1] }],
  }; // prettier-ignore

  afterEach(() => vi.restoreAllMocks());

  it("has its grades written below, and its bill booked in its currency; nothing of it is booked by itself", async () => {
    const asked = serverThat((_method, path) => (path.endsWith("/news") ? NEWS : {}));
    open();
    press("Ask Plumbline");
    await screen.findByText("Write its 2 grades below");
    expect(asked).toHaveLength(1);
    press("Write its 2 grades below");
    expect(field("Grade of card 1")).toHaveValue("10");
    expect(field("Subgrades (centering / corners / edges / surface) of card 1")).toHaveValue("10/10/9/10");
    expect(field("What came of it, in words: of card 2")).toHaveValue("refused: evidence of trimming");
    expect(screen.getByText("2 cards on the way back", { exact: false })).toBeVisible();
    press("Book the bill");
    expect(await screen.findByText("The bill is booked.")).toBeVisible();
    const { charges } = asked[1]!.sent.body as { charges: Record<string, unknown>[] };
    expect(charges).toMatchObject([
      { kind: "service", amount: "25", currency: "USD", over: [1], rate: null },
    ]);
    expect(screen.queryByText("Book the bill")).toBeNull();
    expect(field("Grade of card 1")).toHaveValue("10");
  });

  it("says so where it has no grades yet, and what it asks", async () => {
    serverThat((_method, path) =>
      path.endsWith("/news") ? { ...NEWS, stage: "received", grades: [], bill: [] } : {},
    );
    open({ ...SUBMISSION, question: "Line 2: which printing is this?" });
    expect(screen.getByText(/which printing is this/)).toBeVisible();
    press("Ask Plumbline");
    expect(await screen.findByText(/It is received; no grades yet/)).toBeVisible();
    press("It is answered");
    expect(await screen.findByText("Answered.")).toBeVisible();
  });
});
