import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { client } from "./api/client";
import { around } from "./around";
import { cardName, CardSearch, type FoundCard } from "./CardSearch";

type Asked = { params: { query: { find: string } } };

const CARD: FoundCard = {
  release: "skerrylight-2025",
  release_title: "Skerrylight 2025",
  line: "fog",
  line_name: "Fog Signals",
  number: "FS3",
  subject: "Gull Point",
  variant: "error",
  version: 3,
  price: "1.25",
};

function open() {
  const pick = vi.fn();
  const type = vi.fn();
  function Field() {
    const [typed, setTyped] = useState("");
    return (
      <CardSearch
        label="Card"
        value={typed}
        type={(text) => {
          type(text);
          setTyped(text);
        }}
        pick={pick}
      />
    );
  }
  render(<Field />, { wrapper: around() });
  return { pick, type, field: screen.getByLabelText("Card") };
}

describe("any card by a few keys", () => {
  let asked: ReturnType<typeof vi.spyOn>;
  beforeEach(() => {
    asked = vi.spyOn(client, "GET").mockImplementation(((_path: string, { params }: Asked) =>
      Promise.resolve({
        data: { cards: params.query.find.startsWith("fs") ? [CARD] : [] },
        response: new Response(),
      })) as never);
  });
  afterEach(() => vi.restoreAllMocks());

  it("is told by subject, line, variant and release", () => {
    expect(cardName(CARD)).toBe("Gull Point, Fog Signals (error), Skerrylight 2025");
    expect(cardName({ ...CARD, variant: "" })).toBe("Gull Point, Fog Signals, Skerrylight 2025");
  });

  it("is found while typing and picked; what is typed stays the page's own words", async () => {
    const { pick, type, field } = open();
    expect(asked).not.toHaveBeenCalled();
    fireEvent.change(field, { target: { value: "fs3" } });
    fireEvent.click(await screen.findByText(/FS3 Gull Point/));
    expect(pick).toHaveBeenCalledExactlyOnceWith(CARD);
    expect(type.mock.calls).toEqual([["fs3"]]);
    expect(screen.queryByText(/not in the list/)).toBeNull();
  });

  it("may be named where no list has it, with what was typed as its subject", async () => {
    const { pick, field } = open();
    fireEvent.change(field, { target: { value: "Old Lamp" } });
    fireEvent.click(await screen.findByText(/not in the list: name it/));
    expect(await screen.findByLabelText("Whom it shows")).toHaveValue("Old Lamp");
    fireEvent.click(screen.getByRole("button", { name: "Leave it" }));
    await waitFor(() => expect(screen.queryByLabelText("Whom it shows")).toBeNull());
    expect(pick).not.toHaveBeenCalled();
    expect(field).toHaveValue("Old Lamp");
  });
});
