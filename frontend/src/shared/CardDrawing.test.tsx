import { fireEvent, render, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { CardDrawing, type DrawnMark } from "./CardDrawing";

const MARK: DrawnMark = { at: 0, x: 0.5, y: 0.5, reach: 2, letter: "W", name: "small wear" };

function draw(marks: DrawnMark[]) {
  const acts = { place: vi.fn(), move: vi.fn(), remove: vi.fn() };
  render(<CardDrawing label="front" marks={marks} {...acts} />);
  return acts;
}

test("a place is marked by the keyboard: the cross goes by arrows and stays on the card", () => {
  const { place } = draw([]);
  const card = screen.getByRole("group", { name: /The front/ });
  card.focus();
  for (let step = 0; step < 40; step += 1) fireEvent.keyDown(card, { key: "ArrowLeft" });
  fireEvent.keyDown(card, { key: "ArrowDown" });
  fireEvent.keyDown(card, { key: "Enter" });
  expect(place).toHaveBeenCalledTimes(1);
  const [x, y] = place.mock.calls[0] as [number, number];
  expect(x).toBe(0);
  expect(y).toBeCloseTo(0.52);
});

test("a mark moves by arrows and is taken off, without marking another", () => {
  const { place, move, remove } = draw([MARK]);
  const mark = screen.getByRole("button", { name: /small wear, 50 % from the left/ });
  fireEvent.keyDown(mark, { key: "ArrowUp" });
  expect(move).toHaveBeenCalledWith(0, 0.5, 0.48);
  fireEvent.keyDown(mark, { key: "Delete" });
  expect(remove).toHaveBeenCalledWith(0);
  fireEvent.pointerUp(mark);
  expect(place).not.toHaveBeenCalled();
});
