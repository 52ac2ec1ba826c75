import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { client } from "../../shared/api/client";
import { PullEntry } from "./PullEntry";
import type { Opening } from "./queries";

type Asked = { params: { query: { find: string } } };

const LINES = [
  { id: "base", name: "Base", print_run: null, is_base: true },
  { id: "drizzle", name: "Drizzle", print_run: 160, is_base: false },
];
const CARDS = [
  {
    release: "r",
    release_title: "R",
    line: "base",
    line_name: "Base",
    number: "44",
    subject: "Gull Point",
    price: null,
  },
  {
    release: "r",
    release_title: "R",
    line: "drizzle",
    line_name: "Drizzle",
    number: "44",
    subject: "Gull Point",
    price: null,
  },
];

function open() {
  const data = { number: 7, current_pack: 3, lines: LINES } as unknown as Opening;
  const log = vi.fn<(body: unknown) => Promise<Opening>>().mockResolvedValue(data);
  const next = vi.fn();
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <PullEntry data={data} log={log} next={next} />
    </QueryClientProvider>,
  );
  return { log, next, field: screen.getByLabelText("number or subject") };
}

describe("logging a card by a few keys", () => {
  beforeEach(() => {
    vi.spyOn(client, "GET").mockImplementation(((_path: string, { params }: Asked) =>
      Promise.resolve({
        data: { cards: params.query.find === "44" ? CARDS : [] },
        response: new Response(),
      })) as never);
  });
  afterEach(() => vi.restoreAllMocks());

  it("logs what was typed even when Enter comes before the answer, and twice Enter once", async () => {
    const { log, field } = open();
    fireEvent.change(field, { target: { value: "44" } });
    fireEvent.keyDown(field, { key: "Enter" });
    fireEvent.keyDown(field, { key: "Enter" });
    await waitFor(() => expect(field).toHaveValue(""));
    expect(log).toHaveBeenCalledTimes(1);
    expect(log.mock.calls[0]?.[0]).toMatchObject({
      pack: 3,
      line: "base",
      number: "44",
      serial: null,
      count: 1,
    });
  });

  it("lets the arrows choose the line, asks for a serial of its print run, and keeps it with the card", async () => {
    const { log, field } = open();
    fireEvent.change(field, { target: { value: "44" } });
    await screen.findByText("44 Gull Point, Drizzle");
    fireEvent.keyDown(field, { key: "ArrowDown" });
    const serial = await screen.findByLabelText("serial of 160");
    fireEvent.change(serial, { target: { value: "88/160" } });
    fireEvent.keyDown(serial, { key: "Enter" });
    await waitFor(() => expect(log).toHaveBeenCalled());
    expect(log.mock.calls[0]?.[0]).toMatchObject({ line: "drizzle", serial: "88/160" });
  });

  it("says what it does not find and keeps what was typed; a bracket turns the pack only in an empty field", async () => {
    const { log, next, field } = open();
    fireEvent.change(field, { target: { value: "nobody" } });
    fireEvent.keyDown(field, { key: "]" });
    expect(next).not.toHaveBeenCalled();
    fireEvent.keyDown(field, { key: "Enter" });
    expect(await screen.findByRole("alert")).toHaveTextContent("no card of this box is called so");
    expect(field).toHaveValue("nobody");
    fireEvent.change(field, { target: { value: "" } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(screen.getByRole("alert")).toHaveTextContent("type a number");
    fireEvent.keyDown(field, { key: "]" });
    expect(next).toHaveBeenCalledTimes(1);
    expect(log).not.toHaveBeenCalled();
  });
});
