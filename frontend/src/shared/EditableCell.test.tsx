import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { ProblemError } from "./api/client";
import { EditableCell } from "./EditableCell";

const refusal = new ProblemError({
  type: "about:blank",
  title: "Unprocessable",
  status: 422,
  detail: "price: is not a price",
  faults: [{ field: "price", message: "is not a price", sheet: null, row: null }],
  flag: null,
});

function open(save: (text: string) => Promise<unknown>) {
  render(<EditableCell value="1.50" label="Price of FS1" save={save} />);
  fireEvent.click(screen.getByRole("button"));
  return screen.getByLabelText("Price of FS1");
}

describe("a cell that is edited where it stands", () => {
  it("keeps what was typed, and the refusal beside it, until it is mended", async () => {
    const save = vi.fn().mockRejectedValueOnce(refusal).mockResolvedValueOnce(undefined);
    const field = open(save);
    fireEvent.change(field, { target: { value: "1,75" } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(await screen.findByRole("alert")).toHaveTextContent("is not a price");
    expect(field).toHaveValue("1,75");
    fireEvent.change(field, { target: { value: "1.75" } });
    fireEvent.keyDown(field, { key: "Enter" });
    await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
    expect(save.mock.calls).toEqual([["1,75"], ["1.75"]]);
  });

  it("leaves things as they were on Esc, and saves nothing that did not change", async () => {
    const save = vi.fn().mockResolvedValue(undefined);
    const field = open(save);
    fireEvent.change(field, { target: { value: "9" } });
    fireEvent.keyDown(field, { key: "Escape" });
    fireEvent.click(await screen.findByRole("button"));
    const goesOn = fireEvent.keyDown(screen.getByLabelText("Price of FS1"), { key: "Enter" });
    expect(goesOn).toBe(false); // the browser would press the cell that has the focus by then
    await screen.findByRole("button", { name: "Price of FS1: 1.50. Edit" });
    expect(save).not.toHaveBeenCalled();
  });
});
