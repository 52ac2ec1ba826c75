import { useMutation, useQueryClient } from "@tanstack/react-query";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { askAnew } from "../../shared/api/forget";
import { useNotice } from "../../shared/notices";

export type Way = Schemas["WayOut"];

function useForgetWays() {
  const queries = useQueryClient();
  return () => {
    void askAnew(queries, ["ways", "answer", "release", "shelf", "desk", "preferences"]);
  };
}

/** What is sent of a way: all of it but its name in the address and its example. */
export function toBody(way: Way): Schemas["WayIn"] {
  const body: Partial<Way> = { ...way };
  delete body.id;
  delete body.example_net;
  return body as Schemas["WayIn"];
}

export function useSaveWay() {
  const forget = useForgetWays();
  return useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas["WayIn"] }) =>
      take(client.PUT("/api/ways/{way}", { params: { path: { way: id } }, body })),
    onSuccess: forget,
  });
}

export function useRemoveWay() {
  const forget = useForgetWays();
  const say = useNotice();
  const save = useSaveWay();
  return useMutation({
    mutationFn: (id: string) => take(client.DELETE("/api/ways/{way}", { params: { path: { way: id } } })),
    onSuccess: (way) => {
      forget();
      say({
        text: `${way.name} was taken out.`,
        undo: () => save.mutateAsync({ id: way.id, body: { ...toBody(way), version: 0 } }),
      });
    },
    onError: (error) => say({ text: inWords(error), isError: true }),
  });
}

/** A name as an id: "Quay Fair" is "quay-fair". */
export function toId(name: string): string {
  return (
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 60) || "way"
  );
}

/** Brackets as they are typed: "12 % to 1000, then 3 %"; null for what is not so. */
export function parseBrackets(text: string): Schemas["BracketIn"][] | null {
  const parts = text.split(/,\s*then\s+|;\s*/);
  const brackets: Schemas["BracketIn"][] = [];
  for (const [index, part] of parts.entries()) {
    const match = /^(\d{1,2}(?:\.\d{1,4})?)\s*%(?:\s+to\s+(\d{1,8}(?:\.\d{1,4})?))?$/.exec(part.trim());
    const isLast = index === parts.length - 1;
    if (!match || (match[2] === undefined) !== isLast) return null;
    brackets.push({ up_to: match[2] ?? null, share: String(Number(match[1]) / 100) });
  }
  return brackets;
}

export function writeBrackets(brackets: Way["commission"]): string {
  return brackets
    .map(({ up_to, share }) => {
      const percent = `${Math.round(Number(share) * 1e6) / 1e4} %`;
      return up_to === null ? percent : `${percent} to ${up_to}`;
    })
    .join(", then ");
}
