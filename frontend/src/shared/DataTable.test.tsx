import { fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { useState } from "react";
import { asText, DataTable, type Column } from "./DataTable";

interface Row {
  id: number;
  name: string;
  place: string;
}
const ROWS: Row[] = [
  { id: 1, name: "Gull\tRock", place: "tin 9" },
  { id: 2, name: "Quern Bank", place: "" },
];
const save = vi.fn<(row: Row, text: string) => Promise<unknown>>();
const COLUMNS: Column<Row>[] = [
  { key: "name", name: "what", sort: "name", cell: (row) => <b>{row.name}</b>, text: (row) => row.name },
  {
    key: "place",
    name: "place",
    cell: (row) => row.place,
    edit: {
      label: (row) => `Place of ${row.name}`,
      value: (row) => row.place,
      shown: (row) => row.place || "not said",
      save: (row, text) => save(row, text),
    },
  },
];

function Page({ sort }: { sort: (by: string, descending: boolean) => void }) {
  const [keys, set] = useState<ReadonlySet<number>>(new Set());
  return (
    <>
      <DataTable
        label="Items"
        rows={ROWS}
        columns={COLUMNS}
        keyOf={(row) => row.id}
        sorting={{ by: "name", descending: false, set: sort }}
        selection={{ keys, set, name: (key) => `item ${key}` }}
        empty="None."
      />
      <output>{[...keys].join(",")}</output>
    </>
  );
}

test("heads say how it is sorted, and turn it", () => {
  const sort = vi.fn();
  render(<Page sort={sort} />);
  const head = screen.getByRole("columnheader", { name: "what" });
  expect(head).toHaveAttribute("aria-sort", "ascending");
  expect(head).toHaveAttribute("scope", "col");
  fireEvent.click(within(head).getByRole("button"));
  expect(sort).toHaveBeenCalledWith("name", true);
});

test("all of a page or some of it are chosen", () => {
  render(<Page sort={vi.fn()} />);
  fireEvent.click(screen.getByLabelText("Choose item 2"));
  expect(screen.getByRole("status")).toHaveTextContent("2");
  fireEvent.click(screen.getByLabelText("Choose all on this page"));
  expect(screen.getByRole("status")).toHaveTextContent("2,1");
  fireEvent.click(screen.getByLabelText("Choose all on this page"));
  expect(screen.getByRole("status")).toBeEmptyDOMElement();
});

test("a key typed on a cell begins to edit it; a refusal keeps the words, the field and the focus", async () => {
  save.mockRejectedValueOnce(new Error("no such place"));
  render(<Page sort={vi.fn()} />);
  fireEvent.keyDown(screen.getByRole("button", { name: "Place of Quern Bank: not said. Edit" }), {
    key: "l",
  });
  const field = screen.getByRole("textbox", { name: "Place of Quern Bank" });
  expect(field).toHaveValue("l");
  fireEvent.change(field, { target: { value: "lid" } });
  fireEvent.keyDown(field, { key: "Enter" });
  expect(await screen.findByRole("alert")).toHaveTextContent("no such place");
  expect(field).toHaveFocus();
  expect(field).toHaveValue("lid");
  save.mockResolvedValueOnce({});
  fireEvent.keyDown(field, { key: "Enter" });
  await waitFor(() => expect(screen.queryByRole("textbox")).toBeNull());
  expect(save.mock.calls.map(([row, text]) => [row.id, text])).toEqual([
    [2, "lid"],
    [2, "lid"],
  ]);
});

test("it is one stop for Tab, which goes where the arrows went, and a form in it keeps its own", () => {
  render(<Page sort={vi.fn()} />);
  const stops = () => [...screen.getByRole("table").querySelectorAll<HTMLElement>("button, input")];
  expect(stops().filter((cell) => cell.tabIndex === 0)).toHaveLength(1);
  const place = screen.getByRole("button", { name: /Place of Gull/ });
  place.focus();
  fireEvent.keyDown(place, { key: "ArrowDown" });
  expect(screen.getByRole("button", { name: /Place of Quern/ })).toHaveFocus();
  expect(stops().filter((cell) => cell.tabIndex === 0)).toEqual([document.activeElement]);
});

test("as text it has tabs between its columns and nowhere else", () => {
  expect(asText(ROWS, COLUMNS)).toBe("what\tplace\nGull Rock\ttin 9\nQuern Bank\tnot said");
});
