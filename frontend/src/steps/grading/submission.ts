import type { Schemas } from "../../shared/api/client";

export type Submission = Schemas["SubmissionOut"];
export type SentCard = Submission["cards"][number];
export type DraftBody = Schemas["DraftIn"];

/** A draft as it is sent, with a change. */
export function draftOf(data: Submission, change: Partial<DraftBody>): DraftBody {
  return {
    version: data.version,
    cards: data.cards.map(({ item, tier, said }) => ({ item, tier, declared: said })),
    carrier: data.carrier,
    post_class: data.post_class,
    tracking: data.tracking,
    back: data.back,
    membership: data.membership,
    ...change,
  };
}

/** What is said of a card that came back, as it is typed. */
export interface Came {
  grade: string;
  certificate: string;
  subgrades: string;
  words: string;
  /** Signed, say, it is another version: as it is called, and which it is. */
  called: string;
  is: Named | null;
}

export type Named = Pick<Schemas["FoundOut"], "release" | "line" | "number" | "variant">;

export const NOTHING: Came = {
  grade: "",
  certificate: "",
  subgrades: "",
  words: "",
  called: "",
  is: null,
};

/** The cards of which something is said, as they are sent; subgrades by the grader's names for them. */
export function toGrades(
  cards: readonly SentCard[],
  typed: Readonly<Record<number, Came>>,
  parts: readonly string[],
): Schemas["GradedIn"][] {
  return cards.flatMap((card) => {
    const said = typed[card.item];
    if (!said || !(said.grade || said.words || said.certificate || said.is)) return [];
    const given = said.subgrades.split("/").map((it) => it.trim());
    const isWhole = said.subgrades.trim() !== "" && given.length === parts.length;
    return [
      {
        item: card.item,
        grade: said.grade.trim() || null,
        certificate: said.certificate.trim() || null,
        subgrades: isWhole ? Object.fromEntries(parts.map((part, at) => [part, given[at]!])) : null,
        words: said.words.trim() || (said.is ? `back as ${said.called}`.slice(0, 200) : ""),
        condition: null,
        release: said.is?.release ?? null,
        line: said.is?.line ?? null,
        number: said.is?.number ?? null,
        variant: said.is?.variant ?? "",
        lost: said.words.trim().toLowerCase() === "lost",
      },
    ];
  });
}
