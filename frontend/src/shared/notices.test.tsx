import { act, fireEvent, render, screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { forgetHistory, lastDone } from "./history";
import { NoticeProvider, Notices, useNotice, useTakingBack } from "./notices";

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
      <Notices />
    </NoticeProvider>,
  );
  fireEvent.click(screen.getByText("Brought in"));
  act(() => void vi.advanceTimersByTime(9_000));
  fireEvent.click(screen.getByText("Filter kept"));
  act(() => void vi.advanceTimersByTime(3_000));
  expect(screen.queryByText("Filter kept.")).not.toBeNull();
  expect(screen.queryByText("Brought in.")).toBeNull();
  vi.useRealTimers();
});

test("what can be taken back stays in the history after its notice is closed, the last first, and says which", async () => {
  const taken: string[] = [];
  const Does = ({ what }: { what: string }) => {
    const say = useNotice();
    return (
      <button
        onClick={() =>
          say({
            text: `${what}.`,
            undo: () =>
              what === "Third" ? Promise.reject(new Error("stays")) : Promise.resolve(taken.push(what)),
          })
        }
      >
        {what}
      </button>
    );
  };
  const TakesBack = () => {
    const takeBack = useTakingBack();
    return <button onClick={() => void takeBack(lastDone()?.number ?? 0)}>last</button>;
  };
  render(
    <NoticeProvider>
      {["First", "Second", "Third"].map((what) => (
        <Does key={what} what={what} />
      ))}
      <TakesBack />
      <Notices />
    </NoticeProvider>,
  );
  for (const what of ["First", "Second", "Third"]) fireEvent.click(screen.getByText(what));
  fireEvent.click(screen.getByLabelText("Close: First."));
  fireEvent.click(screen.getByText("last"));
  expect(await screen.findByRole("alert")).toHaveTextContent("Stays"); // refused: it stands, and is still the last
  expect(lastDone()?.text).toBe("Third.");
  fireEvent.click(screen.getAllByText("Take back")[0]!);
  expect(await screen.findByText("Taken back: Second.")).toBeInTheDocument();
  expect(taken).toEqual(["Second"]);
  forgetHistory();
});
