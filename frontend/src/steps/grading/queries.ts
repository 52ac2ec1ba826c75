import { queryOptions } from "@tanstack/react-query";
import { client, take, type Schemas } from "../../shared/api/client";

export type Grader = Schemas["GraderOut"];
export type Close = Schemas["CloseOut"];
export type Measured = Schemas["MeasuredOut"];
export type WorthRow = Schemas["WorthRowOut"];

/** What a change of graders, cards or submissions may have made wrong. */
export const KEYS = ["grading", "graders", "items", "books", "tasks"];

export function graders() {
  return queryOptions({ queryKey: ["graders"], queryFn: () => take(client.GET("/api/graders")) });
}

/** Those that give grades; what is away for a signature or a repair goes to one who gives none. */
export const thatGrade = (of: readonly Grader[] | undefined) =>
  (of ?? []).filter((it) => it.grades.length > 0);

export interface Asked {
  grader: number | null;
  tier: string | null;
  lenient: boolean;
}

function query({ grader, tier, lenient }: Asked) {
  return { ...(grader ? { grader } : {}), ...(tier ? { tier } : {}), lenient };
}

export function worth(asked: Asked) {
  return queryOptions({
    queryKey: ["grading", "worth", asked],
    queryFn: ({ signal }) =>
      take(client.GET("/api/grading/worth", { params: { query: query(asked) }, signal })),
  });
}

export function close(item: number, asked: Asked) {
  return queryOptions({
    queryKey: ["grading", "card", item, asked],
    queryFn: ({ signal }) =>
      take(
        client.GET("/api/items/{number}/grading", {
          params: { path: { number: item }, query: query(asked) },
          signal,
        }),
      ),
  });
}

export function linesOf(photo: number) {
  return queryOptions({
    queryKey: ["grading", "lines", photo],
    queryFn: () => take(client.GET("/api/photos/{number}/lines", { params: { path: { number: photo } } })),
  });
}
