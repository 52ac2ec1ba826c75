import { QueryClient } from "@tanstack/react-query";
import { render, screen, waitFor } from "@testing-library/react";
import { around, serverThat } from "../../shared/around";
import { Errand } from "./Errand";

function open(answers: readonly unknown[]) {
  let asked = 0;
  serverThat(() => {
    asked += 1;
    return answers[Math.min(asked, answers.length) - 1];
  });
  const queries = new QueryClient();
  const anew = vi.spyOn(queries, "invalidateQueries");
  render(<Errand number={3} />, { wrapper: around(queries) });
  return { anew, asked: () => asked };
}

const task = (state: string, done: number) => ({
  number: 3,
  kind: "markets",
  state,
  done,
  total: 2,
  fault: null,
});

describe("markets that are asked", () => {
  afterEach(() => vi.restoreAllMocks());

  it("is followed until it is over; what came of it is told, and the lists are asked anew then", async () => {
    const told = [
      { listing: 1, text: "a card: sold for 9.50", well: true, document: 12 },
      {
        listing: 2,
        text: "another: Bellbuoy did not answer in time; it stays a draft",
        well: false,
        document: null,
      },
    ];
    const { anew, asked } = open([
      { task: task("waiting", 0), told: [] },
      { task: task("running", 1), told: [] },
      { task: task("done", 2), told },
    ]);
    expect(await screen.findByText("waiting for its turn")).toBeVisible();
    expect(anew).not.toHaveBeenCalled();
    expect(await screen.findByText("1 of 2")).toBeVisible();
    expect(await screen.findByText("a card: sold for 9.50")).toBeVisible();
    expect(screen.getByRole("link")).toHaveAttribute("href", "/selling/12");
    expect(screen.getByText(/it stays a draft/).tagName).toBe("B");
    await waitFor(() =>
      expect(anew.mock.calls.map(([filters]) => filters?.queryKey?.[0])).toContain("listings"),
    );
    const until = asked();
    await new Promise((resolve) => setTimeout(resolve, 700));
    expect(asked()).toBe(until); // nobody asks on once it is over
  });

  it("says that nothing is new, and what was kept when it was stopped", async () => {
    open([{ task: task("done", 2), told: [] }]);
    expect(await screen.findByText("No news.")).toBeVisible();
    open([{ task: task("cancelled", 1), told: [] }]);
    expect(await screen.findByText(/did or said until then was kept/)).toBeVisible();
  });
});
