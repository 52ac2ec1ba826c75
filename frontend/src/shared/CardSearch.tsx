import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useId, useState, type KeyboardEvent, type Ref } from "react";
import { client, take, type Schemas } from "./api/client";
import { choiceField, Choices, moveChoice } from "./Choices";
import { useFills, type Coming } from "./fills";
import { money } from "./format";
import { Marked } from "./Marked";
import { NameCard } from "./NameCard";
import { useDebounced } from "./useDebounced";

export type FoundCard = Schemas["FoundOut"];

interface Props {
  label: string;
  value: string;
  /** What was typed; a card of no release may be called anything. */
  type: (text: string) => void;
  pick: (card: FoundCard) => void;
  fault?: string | undefined;
  inputRef?: Ref<HTMLInputElement>;
  width?: number;
  /** Cards come in by this field: what one would fill is said, of those that are found and of the one that was chosen. */
  comesIn?: { chosen: Coming | null };
}

export function cardName(card: FoundCard): string {
  const line = card.variant ? `${card.line_name} (${card.variant})` : card.line_name;
  return `${card.subject}, ${line}, ${card.release_title}`;
}

const coming = ({ release, line, number, variant }: FoundCard): Coming => ({
  release,
  line,
  number,
  variant,
});

const NAME_IT = "name it";
type Option = FoundCard | typeof NAME_IT;

/** A card by its number, a bit of its subject or its line, among all releases; or any words; or one to be named. */
export function CardSearch({ label, value, type, pick, fault, inputRef, width = 320, comesIn }: Props) {
  const id = useId();
  const [find, setFind] = useState("");
  const [at, setAt] = useState(-1);
  const [naming, setNaming] = useState(false);
  const asked = useDebounced(find.trim().slice(0, 60), 120);
  const found = useQuery({
    queryKey: ["cards", asked],
    queryFn: ({ signal }) => take(client.GET("/api/cards", { params: { query: { find: asked } }, signal })),
    enabled: asked.length > 0,
    staleTime: 60_000,
  });
  const cards = found.data?.cards ?? [];
  const fills = useFills(comesIn && find.trim() !== "" ? cards.map(coming) : []);
  const [filled] = useFills(comesIn?.chosen ? [comesIn.chosen] : []);
  const isThere = find.trim() !== "" && asked === find.trim().slice(0, 60) && found.data !== undefined;
  // Naming comes last, and only beside what was found: whoever types fast and presses Enter means a card.
  const options: readonly Option[] = isThere ? [...found.data.cards, NAME_IT] : [];
  const choose = (option: Option) => {
    if (option === NAME_IT) return setNaming(true);
    setFind("");
    setAt(-1);
    pick(option);
  };
  const onKey = (event: KeyboardEvent) => {
    const next = moveChoice(event.key, at, options.length, -1);
    const chosen = options[at];
    if (next !== null) setAt(next);
    else if (event.key === "Enter" && chosen) choose(chosen);
    else if (event.key === "Escape" && find) setFind("");
    else return;
    event.preventDefault();
  };
  return (
    <Box sx={{ width, maxWidth: 1 }} onBlur={() => setFind("")}>
      <TextField
        label={label}
        value={value}
        inputRef={inputRef ?? null}
        autoComplete="off"
        onChange={(event) => {
          type(event.target.value);
          setFind(event.target.value);
          setAt(-1);
        }}
        onKeyDown={onKey}
        error={fault !== undefined}
        helperText={fault}
        fullWidth
        slotProps={{ htmlInput: choiceField(id, at, options.length) }}
      />
      <Choices
        id={id}
        label="Cards found"
        options={options}
        keyOf={(option) => (option === NAME_IT ? option : option.version)}
        at={at}
        pick={choose}
      >
        {(option) =>
          option === NAME_IT ? (
            <i>not in the list: name it …</i>
          ) : (
            <>
              {option.number} {cardName(option)}
              {option.price !== null && `, about ${money(option.price)}`}{" "}
              {fills[cards.indexOf(option)] && <Marked>{fills[cards.indexOf(option)]}</Marked>}
            </>
          )
        }
      </Choices>
      {filled && (
        <Box sx={{ fontSize: 13, mt: 0.5 }}>
          <Marked>{filled}</Marked>
        </Box>
      )}
      {naming && (
        <NameCard
          typed={value.trim()}
          close={() => setNaming(false)}
          named={(card) => {
            setNaming(false);
            setFind("");
            pick(card);
          }}
        />
      )}
    </Box>
  );
}
