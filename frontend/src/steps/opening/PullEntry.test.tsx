import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { client } from "../../shared/api/client";
import { around } from "../../shared/around";
import type { Ahead, Opening } from "./entering";
import { PullEntry } from "./PullEntry";

type Asked = { params: { query: { find: string } } };

const LINES = [
  { id: "base", name: "Base", print_run: null, is_base: true },
  { id: "drizzle", name: "Drizzle", print_run: 160, is_base: false },
];
const version = (line: string, line_name: string, version: number) => ({
  release: "r", release_title: "R", line, line_name, version, number: "44", subject: "Gull Point", price: null,
}); // prettier-ignore
const CARDS = [version("base", "Base", 1), version("drizzle", "Drizzle", 2)];

function open() {
  const data = { number: 7, current_pack: 3, packs: 5, gone: 0, lines: LINES } as unknown as Opening;
  const ahead = { pack: 3 } as Ahead;
  const add = vi.fn();
  const takeBack = vi.fn();
  const sending = { entries: [], held: 0, add, drop: () => true, hurry: () => undefined };
  render(<PullEntry data={data} ahead={ahead} sending={sending} takeBack={takeBack} />, {
    wrapper: around(),
  });
  return { add, takeBack, field: screen.getByLabelText("number or subject") };
}

describe("logging a card by a few keys", () => {
  beforeEach(() => {
    sessionStorage.clear();
    vi.spyOn(client, "GET").mockImplementation(((_path: string, { params }: Asked) =>
      Promise.resolve({
        data: { cards: params.query.find === "44" ? CARDS : [] },
        response: new Response(),
      })) as never);
  });
  afterEach(() => vi.restoreAllMocks());

  it("takes what was typed at once when Enter comes before the answer, and a second Enter is nothing", () => {
    const { add, field } = open();
    fireEvent.change(field, { target: { value: "44" } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(field).toHaveValue(""); // no answer was waited for
    fireEvent.keyDown(field, { key: "Enter" });
    expect(add).toHaveBeenCalledTimes(1);
    expect(add).toHaveBeenCalledWith({ kind: "card", pack: 3, typed: "44", place: 1, serial: "", flaw: "" });
  });

  it("lets the arrows, a digit after the number or a tap choose", async () => {
    const { add, field } = open();
    fireEvent.change(field, { target: { value: "44" } });
    await screen.findByText(/44 Gull Point, Drizzle/);
    fireEvent.keyDown(field, { key: "ArrowDown" });
    const serial = screen.getByLabelText("serial");
    fireEvent.change(serial, { target: { value: "88/160" } });
    fireEvent.keyDown(serial, { key: "Enter" });
    expect(add.mock.lastCall?.[0]).toMatchObject({ line: "drizzle", number: "44", serial: "88/160" });
    fireEvent.change(field, { target: { value: "44 2" } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(add.mock.lastCall?.[0]).toMatchObject({ place: 2, typed: "44" });
    fireEvent.change(field, { target: { value: "44" } });
    fireEvent.click(await screen.findByText(/44 Gull Point, Base/));
    expect(add.mock.lastCall?.[0]).toMatchObject({ line: "base", number: "44" });
  });

  it("keeps its keys to an empty field, and none while a key is held down", async () => {
    const { add, takeBack, field } = open();
    fireEvent.change(field, { target: { value: "nobody" } });
    for (const key of ["]", " "]) fireEvent.keyDown(field, { key });
    fireEvent.keyDown(field, { key: "z", ctrlKey: true });
    expect(add).not.toHaveBeenCalled();
    expect(takeBack).not.toHaveBeenCalled();
    await waitFor(() => expect(screen.getByText("no card of this box is called so")).toBeVisible());
    fireEvent.keyDown(field, { key: "Escape" });
    fireEvent.keyDown(field, { key: "]", repeat: true });
    fireEvent.keyDown(field, { key: " ", repeat: true });
    expect(add).not.toHaveBeenCalled();
    fireEvent.keyDown(field, { key: "]" });
    fireEvent.keyDown(field, { key: " " });
    fireEvent.keyDown(field, { key: "z", ctrlKey: true });
    expect(add.mock.calls.map(([what]) => what)).toEqual([
      { kind: "turn", pack: 4 },
      { kind: "rest", pack: 3, next: 4 },
    ]);
    expect(takeBack).toHaveBeenCalledTimes(1);
  });

  it("takes a digit that is typed anywhere on the page", () => {
    const { field } = open();
    field.blur();
    fireEvent.keyDown(document.body, { key: "4" });
    expect(field).toHaveFocus();
  });
});
