import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, type KeyboardEvent, type ReactNode } from "react";
import { choiceField, Choices, moveChoice } from "../../shared/Choices";
import { Key } from "../../shared/Key";
import { isAsking } from "../../shared/keys/useKey";
import { useTakesEntries } from "../../shared/keys/entries";
import { useDebounced } from "../../shared/useDebounced";
import { useDraft } from "../../shared/useDraft";
import { readTyped, type Ahead, type Entered, type Opening, type Pending } from "./entering";
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
  useEffect(() => {
    // A letter or digit typed anywhere on the page belongs into the field; the focus moves before the key arrives.
    const catchKey = (event: globalThis.KeyboardEvent) => {
      const where = event.target instanceof Element ? event.target : document.body;
      if (event.ctrlKey || event.metaKey || event.altKey || isAsking()) return;
      if (where.closest("input, textarea, select, [contenteditable], [role=combobox]")) return;
      if (/^[\p{L}\p{N}]$/u.test(event.key)) field.current?.focus();
    };
    document.addEventListener("keydown", catchKey, true);
    return () => document.removeEventListener("keydown", catchKey, true);
  }, []);

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
  return (
    <Box>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "1fr 1fr", sm: "150px minmax(0, 1fr) minmax(0, 160px) 100px 110px" },
          border: 2,
          borderColor: "tone.ink",
          bgcolor: "background.paper",
          "& > div": { p: 1, borderLeft: 1, borderColor: "divider", minWidth: 0 },
          "& > div:first-of-type": { borderLeft: 0 },
        }}
      >
        <div>
          <Small htmlFor="pull-find">number or subject</Small>
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
          <Small>card</Small>
          <Box sx={{ fontSize: 17, minHeight: 25, overflowWrap: "anywhere" }}>{chosen?.subject ?? ""}</Box>
        </div>
        <div>
          <Small>line</Small>
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
            <Small htmlFor={`pull-${name}`}>{name === "flaw" ? "flaw seen" : "serial"}</Small>
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
      </Box>
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
      {find !== "" && asked === find && found.isSuccess && cards.length === 0 && (
        <Box role="status" sx={{ fontSize: 13, color: "error.main", mt: 0.5 }}>
          no card of this box is called so
        </Box>
      )}
      <UnderWay
        sending={sending}
        mend={(entry, what) => {
          sending.drop(entry.key);
          setTyped({ find: what.typed, serial: what.serial, flaw: what.flaw, at: 0 });
          field.current?.focus();
        }}
        canMend={typed.find === ""}
      />
      <Box
        sx={{
          display: "flex",
          flexWrap: "wrap",
          columnGap: 1.5,
          rowGap: 0.5,
          fontSize: 13,
          color: "text.secondary",
          mt: 0.75,
        }}
      >
        <Hint name="Enter">log</Hint>
        <Hint name="44 2">the second of that number, at once</Hint>
        <Hint name="↑ ↓">choose</Hint>
        <Hint name="Space">the rest of the pack is base</Hint>
        <Hint name="] [">next pack, the one before</Hint>
      </Box>
    </Box>
  );
}

interface UnderWayProps {
  sending: Sending;
  mend: (entry: Pending, what: Extract<Entered, { kind: "card" }>) => void;
  /** The field is empty: nothing that is being typed would be lost. */
  canMend: boolean;
}

/** What was entered and has no answer yet, if that takes long; and what was refused, with its words. */
function UnderWay({ sending, mend, canMend }: UnderWayProps) {
  const refused = sending.entries.filter((entry) => entry.state === "refused");
  const waiting = sending.entries.length - refused.length;
  return (
    <>
      {sending.held > 1 && waiting > 0 && (
        <Box role="status" sx={{ display: "flex", alignItems: "center", gap: 1, mt: 1, fontSize: 13 }}>
          Tobbix does not answer. {waiting === 1 ? "One entry waits" : `${waiting} entries wait`}, kept here,
          and will be sent again.
          <Button color="inherit" variant="outlined" onClick={sending.hurry}>
            Send now
          </Button>
        </Box>
      )}
      {refused.map((entry) => {
        const what = entry.what;
        return (
          <Box
            key={entry.key}
            role="alert"
            sx={{ display: "flex", alignItems: "center", gap: 1, mt: 0.5, color: "error.main", fontSize: 13 }}
          >
            {what.kind === "card" && <b>{[what.typed, what.serial, what.flaw].filter(Boolean).join(", ")}</b>}
            {entry.fault}
            {what.kind === "card" && (
              <Button color="inherit" sx={{ py: 0 }} disabled={!canMend} onClick={() => mend(entry, what)}>
                mend it
              </Button>
            )}
            <Button color="inherit" sx={{ py: 0 }} onClick={() => void sending.drop(entry.key)}>
              leave it out
            </Button>
          </Box>
        );
      })}
    </>
  );
}

/** What is not logged of a pack is base, and the next one is at hand. */
export function restOf(data: Opening, pack: number): Entered {
  return { kind: "rest", pack, next: Math.min(pack + 1, data.packs) };
}

const FIELD = { font: "inherit", fontSize: 17, width: "100%", "& input": { p: 0, height: 25 } };

function Small({ htmlFor, children }: { htmlFor?: string; children: ReactNode }) {
  return (
    <Box
      component={htmlFor ? "label" : "span"}
      {...(htmlFor ? { htmlFor } : {})}
      sx={{ fontSize: 12, color: "text.secondary", display: "block", whiteSpace: "nowrap" }}
    >
      {children}
    </Box>
  );
}

function Hint({ name, children }: { name: string; children: ReactNode }) {
  return (
    <span>
      <Key>{name}</Key> {children}
    </span>
  );
}
