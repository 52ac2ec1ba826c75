import Box from "@mui/material/Box";
import InputBase from "@mui/material/InputBase";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, type KeyboardEvent, type ReactNode } from "react";
import { Key } from "../../shared/Key";
import { isAsking } from "../../shared/keys/useKey";
import { useTakesEntries } from "../../shared/keys/entries";
import { useDebounced } from "../../shared/useDebounced";
import { useDraft } from "../../shared/useDraft";
import { readTyped, type Ahead, type Entered, type Opening } from "./entering";
import { foundCards } from "./queries";

interface Props {
  data: Opening;
  ahead: Ahead;
  add: (what: Entered) => void;
  takeBack: () => void;
}

const EMPTY = { find: "", serial: "", flaw: "", line: "", at: 0 };

/**
 * Logging a card by a few keys: its number or a bit of the subject, then Enter. What is typed is taken at once and sent
 * behind the typing: the field never waits for an answer.
 */
export function PullEntry({ data, ahead, add, takeBack }: Props) {
  const [typed, setTyped, forget] = useDraft(`pull-${data.number}`, EMPTY);
  const field = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLUListElement>(null);
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

  const { find, lineKey } = readTyped(typed.find);
  const asked = useDebounced(find, 120);
  const found = useQuery({ ...foundCards(data.number, asked), enabled: asked !== "" });
  const keyedLine = lineKey === null ? typed.line : (data.lines[lineKey - 1]?.id ?? "");
  // Only what belongs to the very words that stand in the field can be chosen.
  const cards = (asked === find ? (found.data?.cards ?? []) : []).filter(
    (card) => !keyedLine || card.line === keyedLine,
  );
  const at = Math.min(typed.at, Math.max(cards.length - 1, 0));
  const chosen = cards[at];
  useEffect(() => {
    const option = list.current?.querySelector<HTMLElement>('[aria-selected="true"]');
    if (!list.current || !option) return;
    const { offsetTop, offsetHeight } = option; // what is chosen is seen: the list scrolls, not the page
    list.current.scrollTop = Math.min(
      Math.max(list.current.scrollTop, offsetTop + offsetHeight - list.current.clientHeight),
      offsetTop,
    );
  }, [at, asked]);

  const set = (change: Partial<typeof EMPTY>) => setTyped({ ...typed, ...change });
  const log = (card = chosen) => {
    if (!find) return;
    add({
      kind: "card",
      pack: ahead.pack,
      typed: find,
      serial: typed.serial.trim(),
      flaw: typed.flaw.trim(),
      ...(card
        ? { line: card.line, number: card.number, subject: card.subject }
        : keyedLine
          ? { line: keyedLine }
          : {}),
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
    const once = (act: () => void) => event.repeat || act(); // a key that is held down acts once
    const command = event.ctrlKey || event.metaKey;
    if (event.key === "Enter") log();
    else if (event.key === "ArrowDown") set({ at: Math.min(at + 1, Math.max(cards.length - 1, 0)) });
    else if (event.key === "ArrowUp") set({ at: Math.max(at - 1, 0) });
    else if (event.key === "Escape" && !isEmpty) set(EMPTY);
    else if (!isEmpty) return;
    else if (command && event.key.toLowerCase() === "z") once(takeBack);
    else if (event.key === " ") once(() => add(restOf(data, ahead.pack)));
    else if (event.key === "]") once(() => turn(ahead.pack + 1));
    else if (event.key === "[") once(() => turn(ahead.pack - 1));
    else return;
    event.preventDefault();
  };
  const line = data.lines.find((item) => item.id === (chosen?.line ?? keyedLine));
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
                role: "combobox",
                enterKeyHint: "done",
                "aria-expanded": cards.length > 0,
                "aria-controls": "pull-found",
                "aria-activedescendant": chosen ? `pull-found-${at}` : undefined,
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
      <Box
        component="ul"
        ref={list}
        id="pull-found"
        role="listbox"
        aria-label="Cards found"
        sx={{ position: "relative", listStyle: "none", m: 0, p: 0, maxHeight: 224, overflowY: "auto" }}
      >
        {cards.map((card, index) => (
          <Box
            component="li"
            role="option"
            id={`pull-found-${index}`}
            aria-selected={index === at}
            key={`${card.line} ${card.version}`}
            onClick={() => log(card)}
            sx={{
              px: 1,
              py: { xs: 1.1, sm: 0.5 },
              cursor: "pointer",
              fontSize: 13,
              bgcolor: index === at ? "divider" : undefined,
            }}
          >
            {card.number} {card.subject}, {card.line_name}
          </Box>
        ))}
      </Box>
      {find !== "" && asked === find && found.isSuccess && cards.length === 0 && (
        <Box role="status" sx={{ fontSize: 13, color: "error.main", mt: 0.5 }}>
          no card of this box is called so
        </Box>
      )}
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
        {data.lines.slice(0, 9).map((item, index) => (
          <Box
            key={item.id}
            component="button"
            type="button"
            aria-pressed={typed.line === item.id}
            onClick={() => {
              set({ line: typed.line === item.id ? "" : item.id, at: 0 });
              field.current?.focus();
            }}
            tabIndex={-1}
            sx={{
              font: "inherit",
              color: "inherit",
              border: 0,
              p: 0,
              bgcolor: "transparent",
              cursor: "pointer",
              borderBottom: 2,
              borderColor: typed.line === item.id ? "tone.marker" : "transparent",
            }}
          >
            <Key>{index + 1}</Key> {item.name}
          </Box>
        ))}
      </Box>
      <Box sx={{ fontSize: 12, color: "text.secondary", mt: 0.5 }}>
        A line’s key after the number, as in “44 2”, or a tap on it, names the line.
      </Box>
    </Box>
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
