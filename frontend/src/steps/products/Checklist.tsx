import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Answer } from "../../shared/Answer";
import type { Schemas } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { count, day, money } from "../../shared/format";
import { useArrowKeys } from "../../shared/useArrowKeys";
import { PastePrices } from "./PastePrices";
import { useCards, type CardsAsked, type Corrections } from "./queries";

interface Props {
  release: Schemas["ReleaseOut"];
  lines: Schemas["LineOut"][];
  corrections: Corrections;
}

/** The cards of a line with their prices: found, sorted and paged by the server, priced in place. */
export default function Checklist({ release, lines, corrections }: Props) {
  const [line, setLine] = useState(lines[0]?.id ?? "");
  const keys = useArrowKeys<HTMLDivElement>();
  const chosen = lines.find((item) => item.id === line) ?? lines[0];
  if (!chosen) return null;
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "200px minmax(0, 1fr)" },
        gap: 3,
      }}
    >
      <Box role="tablist" aria-label="Lines" aria-orientation="vertical" {...keys}>
        {lines.map((item) => (
          <Box key={item.id} data-row>
            <ButtonBase
              data-cell
              role="tab"
              aria-selected={item.id === chosen.id}
              onClick={() => setLine(item.id)}
              sx={{
                font: "inherit",
                width: "100%",
                justifyContent: "space-between",
                py: 0.5,
                pl: 1,
                borderLeft: 3,
                borderColor: item.id === chosen.id ? "tone.marker" : "transparent",
                fontWeight: item.id === chosen.id ? 700 : 400,
              }}
            >
              {item.name}
              <Box component="span" sx={{ color: "text.secondary", fontWeight: 400, fontSize: 13 }}>
                {count(item.cards)}
                {item.unpriced > 0 && `, ${item.unpriced} ?`}
              </Box>
            </ButtonBase>
          </Box>
        ))}
      </Box>
      <Cards key={chosen.id} release={release} line={chosen} corrections={corrections} />
    </Box>
  );
}

/** Where a price comes from; what was typed is pinned until it is released. */
const SOURCES: Record<NonNullable<Schemas["CardOut"]["source"]>, string> = {
  owner: "typed",
  comps: "sales",
  sheet: "sheet",
  borrowed: "borrowed",
  book: "a book",
  line: "its line",
};

type Card = Schemas["CardOut"];

const COLUMNS = (
  currency: string,
  follows: boolean,
  line: string,
  price: (card: Card, text: string) => Promise<unknown>,
): Column<Card>[] => [
  { key: "number", name: "No.", sort: "number", cell: (card) => card.number },
  { key: "subject", name: "Subject", sort: "subject", cell: (card) => card.subject },
  {
    key: "weight",
    name: "printed",
    kind: "figure",
    sort: "weight",
    cell: (card) => String(card.weight ?? ""),
  },
  {
    key: "price",
    name: `price, ${currency}`,
    kind: "figure",
    sort: "price",
    cell: (card) => money(card.price),
    edit: {
      label: (card) => `Price of ${card.number} of ${line}`,
      value: (card) => (follows && !card.own ? "follows" : (card.price ?? "")),
      shown: (card) => (follows && !card.own ? `${money(card.price)} follows` : money(card.price)),
      save: price,
    },
  },
  {
    key: "day",
    name: "said",
    kind: "day",
    cell: (card) => (card.day && card.source ? `${SOURCES[card.source]}, ${day(card.day)}` : ""),
  },
];

function Cards({
  release,
  line,
  corrections,
}: {
  release: Schemas["ReleaseOut"];
  line: Schemas["LineOut"];
  corrections: Corrections;
}) {
  const [asked, setAsked] = useState<CardsAsked>({
    find: "",
    sort: "checklist",
    descending: false,
    start: 0,
    count: 25,
  });
  const cards = useCards(release.id, line.id, asked);
  const follows = line.cards_of !== null;
  return (
    <Box>
      <Box
        sx={{ display: "flex", gap: 2, alignItems: "center", mb: 1, fontSize: 13, color: "text.secondary" }}
      >
        <TextField
          label="Find a number or subject"
          value={asked.find}
          onChange={(event) => setAsked({ ...asked, find: event.target.value.slice(0, 200), start: 0 })}
        />
        <span>
          {follows
            ? `Prices follow ${line.cards_of}, times ${line.price_multiple ?? "unknown"}${line.price_floor ? `, at least ${money(line.price_floor)}` : ""}, unless you give one.`
            : "Enter edits a price; empty is unknown. What is typed stays until you type release."}
        </span>
      </Box>
      <PastePrices release={release.id} line={line} corrections={corrections} />
      {!cards.data ? (
        <Answer of={cards} />
      ) : (
        <DataTable
          label={`Cards of ${line.name}`}
          rows={cards.data.cards}
          columns={COLUMNS(release.currency, follows, line.name, (card, text) =>
            corrections.priceCard(line.id, card.number, text.trim()),
          )}
          keyOf={(card) => card.number}
          sorting={{
            by: asked.sort,
            descending: asked.descending,
            set: (sort, descending) =>
              setAsked({ ...asked, sort: sort as CardsAsked["sort"], descending, start: 0 }),
          }}
          paging={{
            start: asked.start,
            take: asked.count,
            total: cards.data.total,
            more: asked.start + asked.count < cards.data.total,
            set: (start) => setAsked({ ...asked, start }),
          }}
          empty={asked.find ? "No card like that." : "No cards are listed."}
        />
      )}
    </Box>
  );
}
