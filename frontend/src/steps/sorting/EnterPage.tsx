import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState, type ClipboardEvent, type KeyboardEvent } from "react";
import { Answer } from "../../shared/Answer";
import { client, inWords, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { CONDITIONS } from "../../shared/ConditionChoice";
import { CellName, EntryBox, FIELD, Hints, useTypedAnywhere } from "../../shared/entries/EntryBox";
import { UnderWay } from "../../shared/entries/UnderWay";
import { FieldRow } from "../../shared/FieldRow";
import { count, counted } from "../../shared/format";
import { useTakesEntries } from "../../shared/keys/entries";
import { useNotice } from "../../shared/notices";
import { PageTitle } from "../../shared/PageTitle";
import { Aside } from "../../shared/states";
import { useDraft } from "../../shared/useDraft";
import { EMPTY_PILE, linesOf, perHour, readSet, withChoices, type Pile, type Sets } from "./entering";
import { CodeReader } from "./CodeReader";
import { EnteredLog } from "./EnteredLog";
import { Suggested, Taps } from "./EnterFields";
import { Salvage } from "./Salvage";
import { useSending, type Done, type Sending, type Typed } from "./sending";
import { StockTabs } from "../../shared/StockTabs";

const NONE = { "": "not said", ...Object.fromEntries(CONDITIONS.map((state) => [state, state])) };
const HINTS = [
  ["44", "one of number 44"],
  ["44 x3 l", "three of it, LP"],
  ["7 Gull Rock", "a card that nobody has seen yet"],
  ["+", "one more of the last"],
  ["Ctrl Z", "take the last back"],
] as const;

/** Cards by the thousand: set and pile are chosen once, then number after number, by keyboard, thumb, reader or paste. */
export default function EnterPage() {
  const sets = useQuery({
    queryKey: ["sorting sets"],
    queryFn: () => take(client.GET("/api/sorting/sets")),
  });
  const sending = useSending();
  if (!sets.data) return <Answer of={sets} />;
  return (
    <PageTitle
      title="Enter cards"
      plain={sayEntered(sending.done)}
      crumbs={[{ name: "Stock", to: "/stock" }, { name: "Enter cards" }]}
    >
      <StockTabs />
      <Entry sets={sets.data} sending={sending} />
      <EnteredLog sending={sending} />
      <Salvage />
      <Aside>Mould and dust in old binders: wear a mask.</Aside>
    </PageTitle>
  );
}

/** How many cards were entered since the page was opened, and how fast. */
function sayEntered(done: readonly Done[]): string {
  const standing = done.filter((it) => !it.gone);
  if (standing.length === 0) return "Choose set and pile once, then type number after number.";
  const cards = standing.reduce((sum, it) => sum + it.count, 0);
  const rate = perHour([...standing].reverse());
  const said = `${counted(cards, "card")} entered`;
  return rate === null ? `${said}.` : `${said}, ${count(rate)} an hour.`;
}

function Entry({ sets, sending }: { sets: Sets; sending: Sending }) {
  const [pile, setPile] = useDraft<Pile>("a pile", EMPTY_PILE);
  const [typed, setTyped] = useDraft("a card of a pile", "");
  const [many, setMany] = useState(1);
  const [state, setState] = useState("");
  const [figures, setFigures] = useState(true);
  const [fault, setFault] = useState("");
  const [open, setOpen] = useState(pile.set === ""); // on a phone the pile is folded away once cards are entered
  const field = useRef<HTMLInputElement>(null);
  const setField = useRef<HTMLInputElement>(null);
  const say = useNotice();
  useTakesEntries();
  useTypedAnywhere(field);
  const read = readSet(pile.set, sets.sets);
  const lines = "lines" in read ? read.lines : ["Base", "Inserts"];
  const change = (part: Partial<Pile>) => {
    setPile({ ...pile, ...part });
    setFault("");
  };
  const enter = (texts: readonly string[]) => {
    if (texts.length === 0) return false;
    const isCoded = texts.every((text) => text.includes("-"));
    if ("fault" in read && !isCoded) {
      setFault(read.fault);
      setField.current?.focus();
      return false;
    }
    const known =
      "release" in read ? { release: read.release } : "fresh" in read ? { fresh: read.fresh } : {};
    for (const text of texts)
      sending.add({
        text,
        ...known,
        line: pile.line.trim() || "Base",
        place: pile.place.trim() || null,
        condition: (pile.condition || null) as Typed["condition"],
        plan: pile.plan ? Number(pile.plan) : null,
      } as Typed);
    return true;
  };
  const log = () => {
    if (typed.trim() && enter([withChoices(typed, many, state)])) {
      setTyped("");
      setMany(1);
      setState("");
      setOpen(false);
    }
    if (typed.trim() === "") field.current?.focus();
  };
  const last = sending.done.find((it) => !it.gone);
  const takeBack = () => {
    const loose = sending.entries.findLast((entry) => entry.state !== "refused");
    if (loose && sending.drop(loose.key)) return;
    if (loose) return say({ text: "It is on its way; take it back once it is listed.", isError: true });
    if (last)
      sending
        .takeBack(last.entry)
        .then((text) => say({ text: `Taken back: ${text}.` }))
        .catch((error: unknown) => say({ text: inWords(error), isError: true }));
  };
  const onKey = (event: KeyboardEvent) => {
    const command = event.ctrlKey || event.metaKey;
    if (event.key === "Enter") log();
    else if (event.key === "Escape" && typed) setTyped("");
    else if (typed !== "") return;
    else if (command && event.key.toLowerCase() === "z" && !event.repeat) takeBack();
    else if (event.key === "+" && last && !event.repeat)
      enter([`${last.card.number} ${last.condition ?? ""}`.trim()]);
    else return;
    event.preventDefault();
  };
  const onPaste = (event: ClipboardEvent) => {
    const pasted = linesOf(event.clipboardData.getData("text"));
    if (pasted.length < 2) return;
    event.preventDefault();
    enter(pasted);
  };
  const isChosen = !("fault" in read);
  return (
    <Box sx={{ mb: 3 }}>
      <Box
        sx={{
          display: { xs: isChosen && !open ? "flex" : "none", sm: "none" },
          alignItems: "center",
          gap: 1,
          mb: 1,
        }}
      >
        <span>{[pile.set, pile.line, pile.place, pile.condition].filter(Boolean).join(" · ")}</span>
        <Button color="inherit" variant="outlined" onClick={() => setOpen(true)}>
          Change
        </Button>
      </Box>
      <Box sx={{ display: { xs: isChosen && !open ? "none" : "block", sm: "block" } }}>
        <FieldRow>
          <Suggested
            label="Set"
            hint="a new one: its name and year"
            value={pile.set}
            set={(set) => change({ set })}
            options={sets.sets.map((it) => it.title)}
            fault={fault}
            width={260}
            inputRef={setField}
            autoFocus={pile.set === ""}
          />
          <Suggested
            label="Line"
            value={pile.line}
            set={(line) => change({ line })}
            options={lines}
            width={160}
          />
          <Suggested
            label="Pile"
            hint="where they lie then"
            value={pile.place}
            set={(place) => change({ place })}
            options={sets.places}
            width={160}
          />
          <ChoiceBox
            label="Condition of all"
            value={pile.condition}
            set={(condition) => change({ condition })}
            choices={NONE}
          />
          {Object.keys(sets.plans).length > 0 && (
            <ChoiceBox
              label="Plan"
              value={pile.plan}
              set={(plan) => change({ plan })}
              choices={{ "": "none", ...sets.plans }}
              width={190}
            />
          )}
        </FieldRow>
      </Box>
      <EntryBox columns="minmax(0, 1fr) 270px 330px">
        <Box sx={{ gridColumn: { xs: "1 / -1", sm: "auto" } }}>
          <CellName htmlFor="card-number">number, then how many, condition, who it shows</CellName>
          <Box sx={{ display: "flex", alignItems: "center" }}>
            <InputBase
              id="card-number"
              inputRef={field}
              autoComplete="off"
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
              onKeyDown={onKey}
              onPaste={onPaste}
              autoFocus={pile.set !== ""}
              slotProps={{
                input: { enterKeyHint: "done", inputMode: figures ? "numeric" : "text", maxLength: 250 },
              }}
              sx={FIELD}
            />
            <Button
              color="inherit"
              aria-label={figures ? "abc on the phone’s keyboard" : "123 on the phone’s keyboard"}
              onClick={() => {
                setFigures(!figures);
                field.current?.focus();
              }}
              sx={{ display: { sm: "none" }, minWidth: 0 }}
            >
              {figures ? "abc" : "123"}
            </Button>
          </Box>
        </Box>
        <Box sx={{ gridColumn: { xs: "1 / -1", sm: "auto" } }}>
          <CellName>how many</CellName>
          <Taps
            label="How many"
            options={["1", "2", "3", "4", "5", "10"]}
            value={String(many)}
            set={(text) => setMany(Number(text))}
          />
        </Box>
        <Box sx={{ gridColumn: { xs: "1 / -1", sm: "auto" } }}>
          <CellName>condition of this one</CellName>
          <Taps
            label="Condition of this one"
            options={CONDITIONS}
            value={state}
            set={(text) => setState(text === state ? "" : text)}
          />
        </Box>
      </EntryBox>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
        <Button variant="contained" disabled={typed.trim() === ""} onClick={log}>
          Enter it
        </Button>
        <Button color="inherit" variant="outlined" disabled={!last} onClick={takeBack}>
          Take the last back
        </Button>
        {sets.reader && <CodeReader name={sets.reader} read={enter} />}
      </Box>
      <UnderWay
        {...sending}
        typed={(what) => what.text}
        mend={(what) => {
          setTyped(what.text);
          field.current?.focus();
        }}
        canMend={typed === ""}
      />
      <Hints of={HINTS} />
    </Box>
  );
}
