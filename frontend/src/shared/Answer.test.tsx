import { QueryClient, useQuery } from "@tanstack/react-query";
import { act, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { Answer, Stale } from "./Answer";
import { problemOf, ProblemError } from "./api/client";
import { around } from "./around";

let answer: () => Promise<string>;
const fails = () => Promise.reject(new ProblemError(problemOf(undefined, 0, "")));

function Page() {
  const asked = useQuery({ queryKey: ["page"], queryFn: () => answer(), retry: false });
  if (!asked.data) return <Answer of={asked} />;
  return <input aria-label={asked.data} />;
}

function show() {
  const queries = new QueryClient();
  render(
    <>
      <Stale />
      <Page />
    </>,
    { wrapper: around(queries) },
  );
  return queries;
}

test("a page whose newest asking fails keeps what it shows and what is typed, says so once, and asks again", async () => {
  answer = () => Promise.resolve("stock");
  const queries = show();
  fireEvent.change(await screen.findByLabelText("stock"), { target: { value: "half a word" } });
  answer = fails;
  await act(() => queries.invalidateQueries({ queryKey: ["page"] }));
  expect(screen.getByRole("status")).toHaveTextContent(
    /This is as it stood at \d\d:\d\d\. Tobbix does not answer/,
  );
  expect(screen.getByLabelText("stock")).toHaveValue("half a word");
  answer = () => Promise.resolve("stock");
  fireEvent.click(screen.getByText("Ask again"));
  await waitFor(() => expect(screen.queryByRole("status")).toBeNull());
  expect(screen.getByLabelText("stock")).toHaveValue("half a word");
});

test("a first asking that fails is a failure with a way on, not an empty page", async () => {
  answer = fails;
  show();
  expect(await screen.findByRole("alert")).toHaveTextContent("That did not work.");
  expect(screen.queryByRole("status")).toBeNull(); // nothing is shown that could be old
  answer = () => Promise.resolve("stock");
  fireEvent.click(screen.getByText("Try again"));
  expect(await screen.findByLabelText("stock")).toBeInTheDocument();
});
