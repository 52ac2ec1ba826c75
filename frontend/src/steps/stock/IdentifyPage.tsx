import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { priceOf } from "../../shared/cardPages";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { NameCard } from "../../shared/NameCard";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { useDebounced } from "../../shared/useDebounced";
import { back, keyOf, type Answers } from "./identifying";

type Candidate = Schemas["CandidateOut"];

/** Which exact card it is, by what it shows: one question after another, only as long as there is a doubt. */
export default function IdentifyPage() {
  const [typed, setTyped] = useState("");
  const [answers, setAnswers] = useState<Answers>([]);
  const [naming, setNaming] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const answersOf = useRef<HTMLDivElement>(null);
  const find = useDebounced(typed.trim().slice(0, 120), 150);
  const query = { find, seen: answers.map(([about, value]) => `${about}:${value}`) };
  const found = useQuery({
    queryKey: ["cards", "identified", query],
    queryFn: ({ signal }) => take(client.GET("/api/cards/identified", { params: { query }, signal })),
    enabled: find !== "",
    placeholderData: (before) => before,
    retry: false,
  });
  const data = find === "" ? undefined : found.data;
  const question = data?.question ?? null;
  const say = (about: string, value: string) => {
    setAnswers([...answers, [about, value]]);
    answersOf.current?.focus({ preventScroll: true }); // out of the field, so that the next key answers
  };
  const again = () => {
    setTyped("");
    setAnswers([]);
    field.current?.focus();
  };
  useKey("Backspace", "take the last answer back", () => setAnswers(back(answers)), {
    on: answers.length > 0,
  });
  const only = data?.sure ? data.left[0] : undefined;
  return (
    <PageTitle
      title="Which card is it?"
      plain={data?.words ?? "Type what you can read; then look at what is asked."}
      crumbs={[{ name: "Stock", to: "/stock" }, { name: "Which card is it?" }]}
    >
      <TextField
        inputRef={field}
        label="What stands on it: number or code, a part of what it shows, the release"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setAnswers([]);
          setNaming(false);
        }}
        onKeyDown={(event) => {
          if (event.key !== "Enter" && event.key !== "ArrowDown") return;
          event.preventDefault();
          answersOf.current?.querySelector("button")?.focus();
        }}
        helperText="Enter goes to the answers"
        autoFocus
        sx={{ width: 520, maxWidth: "100%" }}
      />
      {found.isError && (
        <Box role="alert" sx={{ color: "error.main", fontSize: 13, mt: 0.5 }}>
          {inWords(found.error)}
        </Box>
      )}
      <div ref={answersOf} tabIndex={-1} style={{ outline: "none" }}>
        {question && (
          <Asked key={question.about} question={question} say={(value) => say(question.about, value)} />
        )}
      </div>
      {answers.length > 0 && (
        <Button color="inherit" variant="outlined" onClick={() => setAnswers(back(answers))} sx={{ mt: 1.5 }}>
          Take the last answer back <Key>⌫</Key>
        </Button>
      )}
      {data && data.left.length > 0 && (
        <Section
          title={data.sure ? "It is" : "It may be"}
          point={data.of > data.left.length ? `the first ${data.left.length} of ${data.of}` : ""}
        >
          {data.left.map((it) => (
            <Shown key={it.version} card={it} />
          ))}
        </Section>
      )}
      {data && data.left.length === 0 && (
        <Box sx={{ mt: 2 }}>
          <Button color="inherit" variant="outlined" onClick={() => setNaming(true)}>
            Name this card
          </Button>
        </Box>
      )}
      {naming && (
        <NameCard
          typed={typed}
          named={() => {
            setNaming(false);
            void found.refetch();
          }}
          close={() => setNaming(false)}
        />
      )}
      {only && (
        <Button variant="contained" onClick={again} sx={{ mt: 2 }}>
          The next card
        </Button>
      )}
    </PageTitle>
  );
}

const UNTOLD = { value: "?", words: "I cannot tell", leaves: 0, telling: [] };

/** A question with its answers, each by a key of its own. */
function Asked({ question, say }: { question: Schemas["LookAtOut"]; say: (value: string) => void }) {
  const { choices } = question;
  return (
    <Section title="Look at the card" point="by its key, or a tap">
      <Box role="group" aria-label={question.words} sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
        {choices.map((choice, at) => (
          <Answered key={choice.value} choice={choice} at={at} say={() => say(choice.value)} />
        ))}
        <Answered choice={UNTOLD} at={-1} say={() => say("?")} />
      </Box>
    </Section>
  );
}

function Answered({ choice, at, say }: { choice: Schemas["MaySeeOut"]; at: number; say: () => void }) {
  const key = keyOf(at);
  useKey(key ?? "x", choice.words, say, { on: key !== null });
  return (
    <Button
      color="inherit"
      variant="outlined"
      onClick={say}
      sx={{ textAlign: "left", justifyContent: "flex-start", maxWidth: 320, py: 0.75 }}
    >
      <Box component="span">
        {key !== null && <Key>{key}</Key>} {choice.words}
        {choice.telling.map((note) => (
          <Box key={note} component="span" sx={{ display: "block", fontSize: 12, fontWeight: 400 }}>
            {note}
          </Box>
        ))}
      </Box>
    </Button>
  );
}

/** A card that it may be, with how to tell it and where to go on. */
function Shown({ card }: { card: Candidate }) {
  const marks = [card.debut && "a first card", card.watched && "watched"].filter(Boolean).join(", ");
  return (
    <Box sx={{ py: 0.75, borderBottom: 1, borderColor: "divider" }}>
      <Link to={priceOf(card)}>
        {card.subject}, {card.line_name} {card.number}
      </Link>
      {card.variant && ` (${card.variant})`}, {card.release_title}
      {card.print_run !== null && `, of ${card.print_run}`}
      {marks && <b>, {marks}</b>}
      {card.telling.map((note) => (
        <Box key={note} sx={{ fontSize: 12, color: "text.secondary" }}>
          {note}
        </Box>
      ))}
    </Box>
  );
}
