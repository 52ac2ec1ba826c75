import Box from "@mui/material/Box";
import InputBase from "@mui/material/InputBase";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, type KeyboardEvent } from "react";
import { choiceField, Choices, moveChoice } from "../../shared/Choices";
import { Key } from "../../shared/Key";
import { CellName, EntryBox, FIELD, Hints, useTypedAnywhere } from "../../shared/entries/EntryBox";
import { UnderWay } from "../../shared/entries/UnderWay";
import { useFills } from "../../shared/fills";
import { Marked } from "../../shared/Marked";
import { useTakesEntries } from "../../shared/keys/entries";
import { useDebounced } from "../../shared/useDebounced";
import { useDraft } from "../../shared/useDraft";
import { readTyped, type Ahead, type Entered, type Opening } from "./entering";
import { foundCards } from "./queries";
import type { Sending } from "./sending";

interface Props {
  data: Opening;
  ahead: Ahead;
  sending: Sending;
  takeBack: () => void;
}

const EMPTY = { find: "", serial: "", flaw: "", at: 0 };

/**
 * Logging a card by a few keys: its number or a bit of the subject, then Enter. What is typed is taken at once and sent
 * behind the typing: the field never waits for an answer.
 */
export function PullEntry({ data, ahead, sending, takeBack }: Props) {
  const { add } = sending;
  const [typed, setTyped, forget] = useDraft(`pull-${data.number}`, EMPTY);
  const field = useRef<HTMLInputElement>(null);
  useTakesEntries();
  useEffect(() => field.current?.focus(), [ahead.pack]); // after a turn, typing goes on
  useTypedAnywhere(field);

  const { find, place } = readTyped(typed.find);
  const asked = useDebounced(find, 120);
  const found = useQuery({ ...foundCards(data.number, asked), enabled: asked !== "" });
  // Only what belongs to the very words that stand in the field can be chosen.
  const cards = asked === find && asked !== "" ? (found.data?.cards ?? []) : [];
  const at = place > 0 ? place - 1 : Math.min(typed.at, Math.max(cards.length - 1, 0));
  const chosen = cards[at];
  const set = (change: Partial<typeof EMPTY>) => setTyped({ ...typed, ...change });
  const log = (card = chosen) => {
    if (!find) return;
    add({
      kind: "card",
      pack: ahead.pack,
      typed: find,
      serial: typed.serial.trim(),
      flaw: typed.flaw.trim(),
      place: Math.max(place, 1),
      ...(card ? { line: card.line, number: card.number, subject: card.subject } : {}),
    });
    setTyped(EMPTY);
    forget();
    field.current?.focus();
  };
  const turn = (pack: number) => {
    if (pack > data.gone && pack <= data.packs) add({ kind: "turn", pack });
  };
  const onKey = (event: KeyboardEvent) => {
    const isEmpty = typed.find === "";
    const next = moveChoice(event.key, at, cards.length);
    const once = (act: () => void) => event.repeat || act(); // a key that is held down acts once
    const command = event.ctrlKey || event.metaKey;
    if (event.key === "Enter") log();
    else if (next !== null) set({ at: Math.max(next, 0) });
    else if (event.key === "Escape" && !isEmpty) set(EMPTY);
    else if (!isEmpty) return;
    else if (command && event.key.toLowerCase() === "z") once(takeBack);
    else if (event.key === " ") once(() => add(restOf(data, ahead.pack)));
    else if (event.key === "]") once(() => turn(ahead.pack + 1));
    else if (event.key === "[") once(() => turn(ahead.pack - 1));
    else return;
    event.preventDefault();
  };
  const line = data.lines.find((item) => item.id === chosen?.line);
  const [fills] = useFills(
    chosen ? [{ release: data.release, line: chosen.line, number: chosen.number, variant: "" }] : [],
  );
  return (
    <Box>
      <EntryBox columns="150px minmax(0, 1fr) minmax(0, 160px) 100px 110px">
        <div>
          <CellName htmlFor="pull-find">number or subject</CellName>
          <InputBase
            id="pull-find"
            inputRef={field}
            autoComplete="off"
            value={typed.find}
            onChange={(event) => set({ find: event.target.value, at: 0 })}
            onKeyDown={onKey}
            slotProps={{
              input: {
                ...choiceField("pull-found", at, cards.length),
                enterKeyHint: "done",
              },
            }}
            sx={FIELD}
          />
        </div>
        <div>
          <CellName>card</CellName>
          <Box sx={{ fontSize: 17, minHeight: 25, overflowWrap: "anywhere" }}>{chosen?.subject ?? ""}</Box>
        </div>
        <div>
          <CellName>line</CellName>
          <Box sx={{ fontSize: 17, minHeight: 25 }}>
            {line && (
              <>
                {line.name}
                {line.print_run !== null && ` /${line.print_run}`}
              </>
            )}
          </Box>
        </div>
        {(["serial", "flaw"] as const).map((name) => (
          <div key={name}>
            <CellName htmlFor={`pull-${name}`}>{name === "flaw" ? "flaw seen" : "serial"}</CellName>
            <InputBase
              id={`pull-${name}`}
              autoComplete="off"
              value={typed[name]}
              onChange={(event) => set({ [name]: event.target.value })}
              onKeyDown={(event) => event.key === "Enter" && log()}
              sx={FIELD}
            />
          </div>
        ))}
      </EntryBox>
      <Choices
        id="pull-found"
        label="Cards found"
        options={cards}
        keyOf={(card) => card.version}
        at={at}
        pick={log}
      >
        {(card, index) => (
          <>
            {index < 9 && <Key>{index + 1}</Key>} {card.number} {card.subject}, {card.line_name}
          </>
        )}
      </Choices>
      {fills && (
        <Box sx={{ fontSize: 13, mt: 0.5 }}>
          <Marked>{fills}</Marked>
        </Box>
      )}
      {find !== "" && asked === find && found.isSuccess && cards.length === 0 && (
        <Box role="status" sx={{ fontSize: 13, color: "error.main", mt: 0.5 }}>
          no card of this box is called so
        </Box>
      )}
      <UnderWay
        {...sending}
        typed={(what) =>
          what.kind === "card" ? [what.typed, what.serial, what.flaw].filter(Boolean).join(", ") : null
        }
        mend={(what) => {
          if (what.kind === "card")
            setTyped({ find: what.typed, serial: what.serial, flaw: what.flaw, at: 0 });
          field.current?.focus();
        }}
        canMend={typed.find === ""}
      />
      <Hints of={HINTS} />
    </Box>
  );
}

const HINTS = [
  ["Enter", "log"],
  ["44 2", "the second of that number, at once"],
  ["↑ ↓", "choose"],
  ["Space", "the rest of the pack is base"],
  ["] [", "next pack, the one before"],
] as const;

/** What is not logged of a pack is base, and the next one is at hand. */
export function restOf(data: Opening, pack: number): Entered {
  return { kind: "rest", pack, next: Math.min(pack + 1, data.packs) };
}
