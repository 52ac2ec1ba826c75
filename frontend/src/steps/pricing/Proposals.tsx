import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import type { Schemas } from "../../shared/api/client";
import { cardName } from "../../shared/CardSearch";
import { DataTable, type Column } from "../../shared/DataTable";
import { day, money } from "../../shared/format";
import { Explain } from "./Explain";
import { KINDS } from "./kinds";
import { canBeTaken, choose, doubtOf, takenOf, versionOf, type AllSaid, type Result } from "./pages";

interface Props {
  results: readonly Result[];
  cards: readonly Schemas["FoundOut"][];
  said: AllSaid;
  setSaid: (said: AllSaid) => void;
}

/** What versions are called. */
export function namesOf(cards: readonly Schemas["FoundOut"][]): (version: number) => string {
  const known = new Map(cards.map((card) => [card.version, `${cardName(card)} ${card.number}`]));
  return (version) => known.get(version) ?? "a card that is not here any more";
}

/** Results as they would be kept: chosen, corrected and explained by the owner before any is. */
export function Proposals({ results, cards, said, setSaid }: Props) {
  const [explained, setExplained] = useState<number | null>(null);
  const put = (row: number, more: AllSaid[number]) => setSaid({ ...said, [row]: { ...said[row], ...more } });
  const named = namesOf(cards);
  const nameOf = (result: Result) => {
    const version = versionOf(result, said);
    return said[result.row]?.name ?? (version === null ? "" : named(version));
  };
  const columns: Column<Result>[] = [
    {
      key: "title",
      name: "What it says",
      cell: (result) => (
        <>
          {result.title}
          <Box sx={{ fontSize: 12, color: "text.secondary" }}>{doubtOf(result, said)}</Box>
        </>
      ),
      text: (result) => result.title,
    },
    {
      key: "card",
      name: "Card",
      cell: (result) => {
        const version = versionOf(result, said);
        const others = result.doubt ? result.choices.filter((it) => it !== version) : [];
        return (
          <>
            {nameOf(result) || "none"}
            {others.map((other) => (
              <Box key={other}>
                <Button
                  color="inherit"
                  onClick={() => put(result.row, { version: other, name: named(other), taken: true })}
                  sx={{
                    py: 0,
                    px: 0,
                    minHeight: 24,
                    textAlign: "left",
                    fontWeight: 400,
                    textDecoration: "underline",
                  }}
                >
                  or {named(other)}
                </Button>
              </Box>
            ))}
          </>
        );
      },
      text: nameOf,
    },
    {
      key: "kind",
      name: "Kind",
      cell: (result) =>
        (result.kind === null ? "" : KINDS[result.kind]) + (result.lot > 1 ? `, lot of ${result.lot}` : ""),
    },
    {
      key: "state",
      name: "State",
      cell: (result) => said[result.row]?.state ?? result.state ?? (result.price === null ? "" : "?"),
    },
    { key: "day", name: "Day", kind: "day", cell: (result) => (result.day === null ? "" : day(result.day)) },
    {
      key: "price",
      name: "price + shipping",
      kind: "figure",
      cell: (result) =>
        result.price === null
          ? ""
          : `${money(result.price)} + ${result.shipping === null ? "?" : money(result.shipping)} ${result.currency}`,
    },
    {
      key: "more",
      name: "",
      cell: (result) => (
        <Button
          color="inherit"
          aria-label={`Say more of ${result.title}`}
          onClick={() => setExplained(result.row)}
          sx={{ py: 0, minHeight: 24, whiteSpace: "nowrap" }}
        >
          Say more
        </Button>
      ),
    },
  ];
  const about = results.find((result) => result.row === explained);
  return (
    <>
      <DataTable
        label="What it holds"
        rows={results}
        columns={columns}
        keyOf={(result) => result.row}
        selection={{
          keys: takenOf(results, said),
          set: (chosen) => setSaid(choose(results, said, chosen)),
          name: (row) => results.find((result) => result.row === row)?.title ?? "",
        }}
        empty=""
      />
      {about && (
        <Explain
          key={about.row}
          result={about}
          state={said[about.row]?.state ?? about.state ?? ""}
          setState={(state) => put(about.row, { state })}
          setCard={(card) =>
            put(about.row, { version: card.version, name: `${cardName(card)} ${card.number}`, taken: true })
          }
          canBe={canBeTaken(about, said)}
          release={cards.find((card) => card.version === versionOf(about, said))?.release ?? null}
          leave={() => setExplained(null)}
        />
      )}
    </>
  );
}
