import Autocomplete from "@mui/material/Autocomplete";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, take, type Schemas } from "./api/client";
import { money } from "./format";

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
  return `${card.subject}, ${card.line_name}, ${card.release_title}`;
}

/** A card by its number, a bit of its subject or its line, among all releases; or any words. */
export function CardSearch({ label, value, type, pick, fault, width = 320 }: Props) {
  const [find, setFind] = useState("");
  const found = useQuery({
    queryKey: ["cards", find],
    queryFn: () => take(client.GET("/api/cards", { params: { query: { find: find.trim().slice(0, 60) } } })),
    enabled: find.trim().length > 0,
    staleTime: 60_000,
  });
  return (
    <Autocomplete<FoundCard, false, false, true>
      freeSolo
      options={found.data?.cards ?? []}
      filterOptions={(options) => options}
      getOptionLabel={(card) => (typeof card === "string" ? card : cardName(card))}
      getOptionKey={(card) =>
        typeof card === "string" ? card : `${card.release} ${card.line} ${card.number}`
      }
      inputValue={value}
      onInputChange={(_, text, reason) => {
        if (reason !== "input") return;
        type(text);
        setFind(text);
      }}
      onChange={(_, card) => card && typeof card !== "string" && pick(card)}
      renderOption={(props, card) => {
        const { key, ...rest } = props;
        return (
          <li key={key} {...rest} style={{ fontSize: 13 }}>
            {card.number} {cardName(card)}
            {card.price !== null && `, about ${money(card.price)}`}
          </li>
        );
      }}
      renderInput={(props) => (
        <TextField {...props} label={label} error={fault !== undefined} helperText={fault} />
      )}
      sx={{ width }}
    />
  );
}
