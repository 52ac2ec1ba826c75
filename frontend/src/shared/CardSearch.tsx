import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, take, type Schemas } from "./api/client";
import { money } from "./format";
import { NameCard } from "./NameCard";

export type FoundCard = Schemas["FoundOut"];

interface Props {
  label: string;
  value: string;
  /** What was typed; a card of no release may be called anything. */
  type: (text: string) => void;
  pick: (card: FoundCard) => void;
  fault?: string;
  width?: number;
}

export function cardName(card: FoundCard): string {
  const line = card.variant ? `${card.line_name} (${card.variant})` : card.line_name;
  return `${card.subject}, ${line}, ${card.release_title}`;
}

const NAME_IT = "name it";
type Option = FoundCard | typeof NAME_IT;

/** A card by its number, a bit of its subject or its line, among all releases; or any words; or one to be named. */
export function CardSearch({ label, value, type, pick, fault, width = 320 }: Props) {
  const [find, setFind] = useState("");
  const [naming, setNaming] = useState(false);
  const found = useQuery({
    queryKey: ["cards", find],
    queryFn: ({ signal }) =>
      take(client.GET("/api/cards", { params: { query: { find: find.trim().slice(0, 60) } }, signal })),
    enabled: find.trim().length > 0,
    staleTime: 60_000,
  });
  // Naming comes last, and only beside what was found: whoever types fast and presses Enter means a card.
  const options: Option[] = found.data ? [...found.data.cards, NAME_IT] : [];
  return (
    <>
      <Autocomplete<Option, false, false, true>
        freeSolo
        options={options}
        filterOptions={(all) => all}
        getOptionLabel={(card) => (typeof card === "string" ? card : cardName(card))}
        getOptionKey={(card) => (typeof card === "string" ? card : card.version)}
        inputValue={value}
        onInputChange={(_, text, reason) => {
          if (reason !== "input") return;
          type(text);
          setFind(text);
        }}
        onChange={(_, card, reason) => {
          if (reason !== "selectOption" || !card) return;
          if (card === NAME_IT) setNaming(true);
          else if (typeof card !== "string") pick(card);
        }}
        renderOption={(props, card) => {
          const { key, ...rest } = props;
          return (
            <li key={key} {...rest} style={{ fontSize: 13 }}>
              {typeof card === "string" ? (
                <i>not in the list: name it …</i>
              ) : (
                <span>
                  {card.number} {cardName(card)}
                  {card.price !== null && `, about ${money(card.price)}`}
                </span>
              )}
            </li>
          );
        }}
        renderInput={(props) => (
          <TextField {...props} label={label} error={fault !== undefined} helperText={fault} />
        )}
        sx={{ width }}
      />
      {naming && (
        <NameCard
          typed={find.trim()}
          close={() => setNaming(false)}
          named={(card) => {
            setNaming(false);
            pick(card);
          }}
        />
      )}
    </>
  );
}
