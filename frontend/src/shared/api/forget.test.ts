import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { askAnew } from "./forget";

test("an answer that was asked before a change is never taken for the newest", async () => {
  const queries = new QueryClient();
  let price = "26.50"; // what the server holds
  const waiting: (() => void)[] = [];
  const seen: unknown[] = [];
  const observer = new QueryObserver(queries, {
    queryKey: ["answer", 20],
    queryFn: () => {
      const read = price;
      return new Promise((done) => waiting.push(() => done(read)));
    },
  });
  const stop = observer.subscribe((result) => seen.push(result.data));
  await Promise.resolve(); // the first question is under way
  price = "27.50"; // undone meanwhile
  const anew = askAnew(queries, ["answer"]);
  while (waiting.length < 2) await Promise.resolve();
  waiting.forEach((answer) => answer());
  await anew;
  expect(queries.getQueryData(["answer", 20])).toBe("27.50");
  expect(seen).not.toContain("26.50");
  stop();
});

test("what nobody looks at is dropped at once where an outdated figure must not flash", async () => {
  const queries = new QueryClient();
  queries.setQueryData(["answer", 1], "27.50");
  queries.setQueryData(["shelf"], "kept");
  const anew = askAnew(queries, ["answer"], true);
  expect(queries.getQueryData(["answer", 1])).toBeUndefined();
  await anew;
  expect(queries.getQueryData(["shelf"])).toBe("kept");
});
