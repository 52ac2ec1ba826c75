import { act, fireEvent, render, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { NoticeProvider, useNotice } from "./notices";

function Says({ text }: { text: string }) {
  const say = useNotice();
  return <button onClick={() => say({ text: `${text}.` })}>{text}</button>;
}

test("a notice that follows another has its own time", () => {
  vi.useFakeTimers();
  render(
    <NoticeProvider>
      <Says text="Brought in" />
      <Says text="Filter kept" />
    </NoticeProvider>,
  );
  fireEvent.click(screen.getByText("Brought in"));
  act(() => void vi.advanceTimersByTime(6_500));
  fireEvent.click(screen.getByText("Filter kept"));
  act(() => void vi.advanceTimersByTime(3_000));
  expect(screen.queryByText("Filter kept.")).not.toBeNull();
  expect(screen.queryByText("Brought in.")).toBeNull();
  vi.useRealTimers();
});
