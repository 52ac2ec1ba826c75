import { fireEvent, render, screen } from "@testing-library/react";
import { ValueField } from "./ValueField";

describe("a field of a page's question", () => {
  it("asks on Enter and on leaving, and only if something else is meant", () => {
    const commit = vi.fn();
    const { rerender } = render(<ValueField label="Find" value="" commit={commit} />);
    const field = screen.getByLabelText("Find");
    fireEvent.blur(field);
    expect(commit).not.toHaveBeenCalled();
    fireEvent.change(field, { target: { value: "  gull " } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(commit.mock.calls).toEqual([["gull"]]);
    rerender(<ValueField label="Find" value="gull" commit={commit} />); // it was taken: the address says so
    expect(field).toHaveValue("gull");
    fireEvent.blur(field);
    expect(commit).toHaveBeenCalledTimes(1);
  });

  it("puts back what stood there on Esc, and shows what was asked elsewhere", () => {
    const commit = vi.fn();
    const { rerender } = render(<ValueField label="Find" value="gull" commit={commit} />);
    const field = screen.getByLabelText("Find");
    fireEvent.change(field, { target: { value: "tern" } });
    fireEvent.keyDown(field, { key: "Escape" });
    expect(field).toHaveValue("gull");
    fireEvent.change(field, { target: { value: "tern" } });
    fireEvent.blur(field);
    rerender(<ValueField label="Find" value="skua" commit={commit} />); // a kept filter was chosen
    expect(field).toHaveValue("skua");
  });

  it("keeps what is typed while the answer to what was sent before is under way", () => {
    const { rerender } = render(<ValueField label="Note" value="" commit={() => undefined} />);
    const field = screen.getByLabelText("Note");
    fireEvent.change(field, { target: { value: "found" } });
    fireEvent.keyDown(field, { key: "Enter" });
    fireEvent.change(field, { target: { value: "found in a drawer" } });
    rerender(<ValueField label="Note" value="found" commit={() => undefined} />); // the answer to the first
    expect(field).toHaveValue("found in a drawer");
  });

  it("keeps what was typed beside the words of a refusal", () => {
    const { rerender } = render(<ValueField label="Years" value="2" commit={() => undefined} />);
    fireEvent.change(screen.getByLabelText("Years"), { target: { value: "soon" } });
    rerender(<ValueField label="Years" value="2" commit={() => undefined} fault="must be a number" />);
    expect(screen.getByLabelText("Years")).toHaveValue("soon");
    expect(screen.getByText("must be a number")).toBeInTheDocument();
  });
});
