import Box from "@mui/material/Box";
import InputBase from "@mui/material/InputBase";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { faultOf, ProblemError, type Schemas } from "../../shared/api/client";
import { Key } from "../../shared/Key";
import { foundCards, type Opening } from "./queries";

interface Props {
  data: Opening;
  log: (body: Schemas["PullIn"]) => Promise<Opening>;
  next: () => void;
}

/** Logging a card by a few keys: its number or a bit of the subject, then Enter; the arrows choose among the found. */
export function PullEntry({ data, log, next }: Props) {
  const [find, setFind] = useState("");
  const [serial, setSerial] = useState("");
  const [flaw, setFlaw] = useState("");
  const [at, setAt] = useState(0);
  const [fault, setFault] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const sending = useRef(false);
  useEffect(() => field.current?.focus(), [data.current_pack]); // after a turn, typing goes on
  const queries = useQueryClient();
  const found = useQuery({ ...foundCards(data.number, find), enabled: find.trim() !== "" });
  const cards = found.data?.cards ?? [];
  const pick = <T,>(from: T[]) => from[Math.min(at, from.length - 1)];
  const chosen = pick(cards);
  const numbered = data.lines.find((line) => line.id === chosen?.line)?.print_run ?? null;

  const send = async () => {
    if (sending.current) return; // Enter twice is one card
    if (!find.trim()) {
      setFault("type a number or a bit of the subject");
      return;
    }
    sending.current = true;
    try {
      // Whoever types faster than the answer comes gets what they typed.
      const wanted = pick((await queries.fetchQuery(foundCards(data.number, find))).cards);
      if (!wanted) {
        setFault("no card of this box is called so");
        return;
      }
      await log({
        pack: data.current_pack,
        line: wanted.line,
        number: wanted.number,
        count: 1,
        serial: serial || null,
        flaw: flaw || null,
      });
      setFind("");
      setSerial("");
      setFlaw("");
      setAt(0);
      setFault(null);
      field.current?.focus();
    } catch (error) {
      setFault(error instanceof ProblemError ? faultOf(error) : String(error));
    } finally {
      sending.current = false;
    }
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === "Enter") void send();
    else if (event.key === "ArrowDown") setAt(Math.min(at + 1, cards.length - 1));
    else if (event.key === "ArrowUp") setAt(Math.max(at - 1, 0));
    else if (event.key === "]" && !find) next();
    else return;
    event.preventDefault();
  };
  const input = (label: string, value: string, set: (text: string) => void) => (
    <Box sx={{ p: 1, borderLeft: 1, borderColor: "divider" }}>
      <Box
        component="label"
        htmlFor={`pull-${label}`}
        sx={{ fontSize: 12, color: "text.secondary", display: "block" }}
      >
        {label}
      </Box>
      <InputBase
        id={`pull-${label}`}
        value={value}
        onChange={(event) => set(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && void send()}
        sx={{ font: "inherit", fontSize: 16, width: "100%", "& input": { p: 0 } }}
      />
    </Box>
  );
  return (
    <Box>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "1fr 1fr", sm: "150px 1fr 110px 140px" },
          border: 2,
          borderColor: fault ? "error.main" : "tone.ink",
          bgcolor: "background.paper",
          borderRadius: "2px",
        }}
      >
        <Box sx={{ p: 1 }}>
          <Box
            component="label"
            htmlFor="pull-find"
            sx={{ fontSize: 12, color: "text.secondary", display: "block" }}
          >
            number or subject
          </Box>
          <InputBase
            id="pull-find"
            inputRef={field}
            autoComplete="off"
            value={find}
            onChange={(event) => {
              setFind(event.target.value);
              setAt(0);
              setFault(null);
            }}
            onKeyDown={onKey}
            slotProps={{
              input: {
                role: "combobox",
                "aria-expanded": cards.length > 0,
                "aria-controls": "pull-found",
                "aria-activedescendant": chosen ? `pull-found-${Math.min(at, cards.length - 1)}` : undefined,
              },
            }}
            sx={{ font: "inherit", fontSize: 16, width: "100%", "& input": { p: 0 } }}
          />
        </Box>
        <Box sx={{ p: 1, borderLeft: 1, borderColor: "divider" }}>
          <Box sx={{ fontSize: 12, color: "text.secondary" }}>card</Box>
          <Box sx={{ fontSize: 16, minHeight: 24 }}>
            {chosen ? `${chosen.subject}, ${chosen.line_name}` : ""}
          </Box>
        </Box>
        {input(numbered ? `serial of ${numbered}` : "serial", serial, setSerial)}
        {input("flaw seen", flaw, setFlaw)}
      </Box>
      {fault && (
        <Box role="alert" sx={{ color: "error.main", fontSize: 13, mt: 0.5 }}>
          {fault}
        </Box>
      )}
      <Box
        component="ul"
        id="pull-found"
        role="listbox"
        aria-label="Cards found"
        sx={{ listStyle: "none", m: 0, p: 0, fontSize: 13 }}
      >
        {cards.slice(0, 6).map((card, index) => (
          <Box
            component="li"
            role="option"
            id={`pull-found-${index}`}
            aria-selected={card === chosen}
            key={card.line + card.number}
            onClick={() => {
              setAt(index);
              field.current?.focus();
            }}
            sx={{ px: 1, py: 0.4, cursor: "pointer", bgcolor: card === chosen ? "divider" : undefined }}
          >
            {card.number} {card.subject}, {card.line_name}
          </Box>
        ))}
      </Box>
      <Box sx={{ fontSize: 13, color: "text.secondary", mt: 0.5 }}>
        <Key>Enter</Key> logs it &nbsp; <Key>↑</Key> <Key>↓</Key> choose &nbsp; <Key>]</Key> the rest of the
        pack is base
      </Box>
    </Box>
  );
}
