import { fireEvent, render, screen } from "@testing-library/react";
import { Histogram } from "./Histogram";

beforeAll(() => {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {}
      disconnect() {}
    },
  );
});

describe("the price on the histogram", () => {
  const histogram = { edges: [0, 10, 20, 30, 40, 50], chances: [0.1, 0.3, 0.3, 0.15, 0.1, 0.05] };
  const draw = (price: number | null) => {
    const acts = { move: vi.fn(), keep: vi.fn(), back: vi.fn() };
    render(
      <Histogram
        histogram={histogram}
        price={price}
        landed={price}
        mean={24}
        middle={21}
        unit="a box"
        {...acts}
      />,
    );
    return { ...acts, handle: screen.getByRole("slider", { name: "Price of a box" }) };
  };

  it("is moved, kept and put back with the keyboard, and never goes below nothing", () => {
    const { move, keep, back, handle } = draw(0.5);
    expect(handle).toHaveAttribute("aria-valuetext", "0.50");
    fireEvent.keyDown(handle, { key: "ArrowRight" });
    fireEvent.keyDown(handle, { key: "PageDown" });
    expect(move.mock.calls).toEqual([
      [1.5, true],
      [0, true],
    ]);
    fireEvent.keyDown(handle, { key: "Enter" });
    fireEvent.keyDown(handle, { key: "Escape" });
    expect([keep.mock.calls.length, back.mock.calls.length]).toEqual([1, 1]);
  });

  it("is offered where there is none yet, and the colours wait for it", () => {
    const { handle } = draw(null);
    expect(handle).toHaveTextContent("set a price");
    expect(document.querySelector("[style*='tone-loss']")).toBeNull();
    expect(screen.getAllByText(/^50 and more: 5\.0\s%$/)).not.toHaveLength(0);
  });

  it("keeps the grab's offset, and takes no click for a drag", () => {
    const { move, handle } = draw(20);
    handle.setPointerCapture = () => undefined;
    fireEvent.pointerDown(handle, { clientX: 700 });
    fireEvent.pointerUp(handle, { clientX: 702 });
    expect(move).not.toHaveBeenCalled();
    fireEvent.pointerDown(handle, { clientX: 700 });
    fireEvent.pointerMove(handle, { clientX: 773.9 }); // a tenth of the picture
    fireEvent.pointerUp(handle, { clientX: 773.9 });
    expect(move.mock.calls).toEqual([
      [26, false],
      [26, true],
    ]);
  });
});
