import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { Figures } from "../../shared/Figures";
import { gain, hits, money, oneIn, percent } from "../../shared/format";
import { Key } from "../../shared/Key";
import { PageTitle } from "../../shared/PageTitle";
import { holds, losesIn } from "../../shared/prospect";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { useKey } from "../../shared/keys/useKey";
import { DivideAgain } from "./DivideAgain";
import { HotBox } from "./HotBox";
import { OffRecord } from "./OffRecord";
import { lastToTakeBack, lookAhead, type Ahead, type Entered, type Opening, type Pending } from "./entering";
import { PullEntry, restOf } from "./PullEntry";
import { useOpening, useOpeningActs } from "./queries";
import { useSending, type Sending } from "./sending";

/** An opening, pack by pack: what came out, what is still in there, and the running account. */
export default function SessionPage() {
  const number = Number(useParams().number);
  const opening = useOpening(number);
  const acts = useOpeningActs(number);
  const sending = useSending(number);
  if (!opening.data) return <Answer of={opening} />;
  return <Shown data={opening.data} acts={acts} sending={sending} />;
}

interface ShownProps {
  data: Opening;
  acts: ReturnType<typeof useOpeningActs>;
  sending: Sending;
}

function Shown({ data, acts, sending }: ShownProps) {
  const running = data.state === "running" || data.state === "paused";
  const ahead = lookAhead(data, sending.entries);
  const turn = (pack: number) => {
    if (running && pack > data.gone && pack <= data.packs) sending.add({ kind: "turn", pack });
  };
  const rest = () => sending.add(restOf(data, ahead.pack));
  const takeBack = () => {
    const { drop, what } = lastToTakeBack(data, sending.entries);
    if ((drop === null || !sending.drop(drop)) && what) sending.add(what);
  };
  useKey("mod+z", "take the last card back", takeBack, { on: running });
  useKey("]", "the next pack", () => turn(ahead.pack + 1), { on: running });
  useKey("[", "the pack before", () => turn(ahead.pack - 1), { on: running });
  const full = ahead.pack >= data.packs && ahead.logged >= ahead.size;
  return (
    <PageTitle
      title={`Opening ${data.release_title}`}
      verdict={data.verdict}
      crumbs={[
        { name: "Opening", to: "/opening" },
        { name: `${data.release_title}, ${data.format_name}` },
        {
          name: running
            ? `pack ${ahead.pack} of ${data.packs}`
            : data.state === "done"
              ? "finished"
              : "taken back",
        },
      ]}
    >
      <TwoColumns
        main={
          <>
            <PackStrip data={data} ahead={ahead} turn={turn} />
            {running && (
              <>
                <PullEntry data={data} ahead={ahead} sending={sending} takeBack={takeBack} />
                <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, my: 1.5 }}>
                  <Button variant="outlined" color="inherit" onClick={rest} disabled={full}>
                    {ahead.logged === 0 ? "The whole pack is base" : "The rest of the pack is base"}
                    &nbsp;&nbsp;
                    <Key>Space</Key>
                  </Button>
                  <Button
                    color="inherit"
                    onClick={() => turn(ahead.pack + 1)}
                    disabled={ahead.pack >= data.packs}
                  >
                    Next pack&nbsp;&nbsp;<Key>]</Key>
                  </Button>
                  <Button color="inherit" onClick={takeBack} disabled={!ahead.some}>
                    Take the last back&nbsp;&nbsp;<Key>Ctrl Z</Key>
                  </Button>
                  <Box sx={{ flex: 1 }} />
                  {data.state === "running" && (
                    <Button color="inherit" onClick={() => void acts.pause()}>
                      Put it aside
                    </Button>
                  )}
                  <Finish data={data} finish={acts.finish} waits={sending.entries.length > 0} />
                </Box>
              </>
            )}
            <Pulls data={data} running={running} ahead={ahead} add={sending.add} />
            {data.state === "done" && <DivideAgain data={data} />}
            {running && data.left_packs > 0 && <StillInside data={data} />}
            {running && <OffRecord data={data} log={acts.totals} />}
          </>
        }
        aside={
          <>
            {data.prospect && <BeforeIt prospect={data.prospect} currency={data.currency} />}
            {data.state !== "undone" && !data.prospect && <Account data={data} running={running} />}
            {running && <HotBox data={data} />}
            {running && (
              <Way
                name="Begun by mistake: take it back"
                go={acts.drop}
                what="What it opened is free again; what was logged stays on record, and it can go on after all."
              />
            )}
            {data.state === "done" && (
              <Way
                name="Take the end of it back"
                go={acts.reopen}
                what="The session goes on, and its cost returns to what was opened. Both stay on record."
              />
            )}
            {data.state === "undone" && (
              <Way
                name="Go on with it after all"
                go={acts.goOn}
                what="What was logged in it is still there."
              />
            )}
          </>
        }
      />
    </PageTitle>
  );
}

function PackStrip({ data, ahead, turn }: { data: Opening; ahead: Ahead; turn: (pack: number) => void }) {
  const over = data.state === "done" || data.state === "undone";
  const perBox = Math.max(Math.round(data.packs / data.boxes), 1);
  const first = Math.floor((ahead.pack - 1) / perBox) * perBox + 1;
  const packs = Array.from({ length: Math.min(perBox, data.packs - first + 1) }, (_, i) => first + i);
  return (
    <>
      {data.boxes > 1 && (
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", fontSize: 13, mb: 0.5 }}>
          box {Math.ceil(ahead.pack / perBox)} of {data.boxes}
          <Button color="inherit" disabled={first === 1} onClick={() => turn(first - 1)}>
            the one before
          </Button>
          <Button color="inherit" disabled={first + perBox > data.packs} onClick={() => turn(first + perBox)}>
            the next one
          </Button>
        </Box>
      )}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: `repeat(auto-fill, minmax(${packs.length > 16 ? 38 : 40}px, 1fr))`,
          gap: "5px",
          mb: 1.5,
        }}
      >
        {packs.map((pack) => {
          const found = ahead.byPack.get(pack);
          const gone = pack <= data.gone;
          const here = pack === ahead.pack && !over;
          return (
            <ButtonBase
              key={pack}
              disabled={gone || over}
              tabIndex={here ? 0 : -1}
              aria-current={here ? "step" : undefined}
              aria-label={`${pack}: pack ${gone ? "gone before" : `with ${found?.cards ?? 0} logged, ${found?.hits ?? 0} hits`}`}
              onClick={() => turn(pack)}
              sx={{
                height: 58,
                p: "5px 6px",
                display: "flex",
                flexDirection: "column",
                alignItems: "flex-start",
                justifyContent: "space-between",
                font: "inherit",
                fontSize: 12,
                fontWeight: here ? 700 : 400,
                borderRadius: "2px",
                border: 1,
                borderColor: here || !(found || gone) ? "tone.ink" : "divider",
                bgcolor: here ? "tone.marker" : found || gone ? "divider" : "background.paper",
                color: here ? "tone.onMarker" : "text.primary",
              }}
            >
              {pack}
              <Box sx={{ display: "flex", gap: "2px", pb: "3px" }}>
                {Array.from({ length: Math.min(found?.hits ?? 0, 4) }, (_, i) => (
                  <Box key={i} sx={{ width: 8, height: 11, bgcolor: here ? "tone.onMarker" : "tone.gain" }} />
                ))}
              </Box>
            </ButtonBase>
          );
        })}
      </Box>
    </>
  );
}

/** The packs of the box in the hand with nothing logged in them or after them. */
function untouched(data: Opening): number {
  const reached = Math.max(data.gone, ...data.pulls.map((pull) => pull.pack));
  return data.packs - reached;
}

function Finish({
  data,
  finish,
  waits,
}: {
  data: Opening;
  finish: (stoppedHot: boolean, restIsBase: boolean) => Promise<void>;
  /** What was entered is still on its way, or was refused: first that. */
  waits: boolean;
}) {
  const [asking, setAsking] = useState(false);
  const [hot, setHot] = useState(false);
  const left = untouched(data);
  const [rest, setRest] = useState("sealed");
  const packs = left === 1 ? "The pack" : `The ${left} packs`;
  if (!asking) {
    return (
      <Button variant="contained" disabled={waits} onClick={() => setAsking(true)}>
        Finish
      </Button>
    );
  }
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, flexWrap: "wrap" }}>
      <FormControlLabel
        control={<Checkbox size="small" checked={hot} onChange={(event) => setHot(event.target.checked)} />}
        label="stopped after a hot run"
      />
      {left > 0 && (
        <TextField
          select
          label={`${packs} with nothing logged`}
          value={rest}
          onChange={(event) => setRest(event.target.value)}
          sx={{ width: 250 }}
        >
          <MenuItem value="sealed">stay sealed, with their cost</MenuItem>
          <MenuItem value="base">were opened, base cards only</MenuItem>
        </TextField>
      )}
      <Button variant="contained" disabled={waits} onClick={() => void finish(hot, rest === "base")}>
        Move the cost to the cards
      </Button>
      <Button color="inherit" onClick={() => setAsking(false)}>
        Not yet
      </Button>
    </Box>
  );
}

/** A way back or on, with what it does. */
function Way({ name, go, what }: { name: string; go: () => Promise<void>; what: string }) {
  return (
    <Box sx={{ mb: 2 }}>
      <Button color="inherit" variant="outlined" onClick={() => void go()}>
        {name}
      </Button>
      <Aside>{what}</Aside>
    </Box>
  );
}

interface PullsProps {
  data: Opening;
  running: boolean;
  ahead: Ahead;
  add: (what: Entered) => void;
}

function Pulls({ data, running, ahead, add }: PullsProps) {
  const shown = running ? ahead.pulls : data.pulls;
  const logged = running ? ahead.logged : data.pulls.reduce((sum, pull) => sum + pull.count, 0);
  return (
    <Section
      title={running ? `Pack ${ahead.pack}` : data.state === "done" ? "What came out" : "What was logged"}
      point={running ? `${logged} of ${ahead.size} logged` : `${logged} cards`}
    >
      {running && logged === 0 ? (
        <Box sx={{ py: 1, color: "text.secondary" }}>Nothing of this pack is logged yet.</Box>
      ) : (
        <Table label="Pulls">
          <thead>
            <tr>
              {!running && (
                <th scope="col" className="figure">
                  pack
                </th>
              )}
              <th scope="col">No.</th>
              <th scope="col">Subject</th>
              <th scope="col">Line</th>
              <th scope="col">serial</th>
              <th scope="col">flaw</th>
              <th scope="col" className="figure">
                about
              </th>
              {running && <th scope="col" aria-label="take back" />}
            </tr>
          </thead>
          <tbody>
            {running &&
              ahead.pending.toReversed().map((entry) => <Coming key={entry.key} data={data} entry={entry} />)}
            {shown.toReversed().map((pull) => (
              <tr key={pull.number} data-row>
                {!running && <td className="figure">{pull.pack}</td>}
                <td>
                  <span data-cell>{pull.card ?? ""}</span>
                </td>
                <td>{pull.count > 1 ? `${pull.count} cards, ${pull.subject}` : pull.subject}</td>
                <td>{pull.line_name}</td>
                <td>{pull.serial ?? ""}</td>
                <td>{pull.flaw ?? ""}</td>
                <td className="figure">{money(pull.worth === null ? null : pull.worth * pull.count)}</td>
                {running && (
                  <td className="figure">
                    <Button
                      color="inherit"
                      data-cell
                      aria-label={`Take back: ${pull.card ?? pull.line_name}`}
                      onClick={() => add({ kind: "takeBack", pull: pull.number })}
                      sx={{ py: 0, minWidth: 0 }}
                    >
                      take back
                    </Button>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {data.state === "done" && (
        <Box sx={{ mt: 1 }}>
          <Link to={`/stock?session=${data.number}`}>What each card carries, in stock</Link>
        </Box>
      )}
    </Section>
  );
}

/** What was entered and is on its way. */
function Coming({ data, entry }: { data: Opening; entry: Pending }) {
  const what = entry.what;
  const line = what.kind === "card" ? data.lines.find((item) => item.id === what.line) : undefined;
  return (
    <Box component="tr" data-row sx={{ color: "text.secondary" }}>
      <td>{what.kind === "card" ? (what.number ?? what.typed) : ""}</td>
      <td>{what.kind === "card" ? (what.subject ?? "…") : "the rest is base"}</td>
      <td>{line?.name ?? ""}</td>
      <td>{what.kind === "card" ? what.serial : ""}</td>
      <td>{what.kind === "card" ? what.flaw : ""}</td>
      <td />
      <td className="figure">on its way</td>
    </Box>
  );
}

/** What may still come, by line: in all packs left, in one of them, and what that is worth. */
function StillInside({ data }: { data: Opening }) {
  const packs = data.left_packs === 1 ? "the pack" : `the ${data.left_packs} packs`;
  return (
    <Section
      title="Still in there"
      point={`about ${money(data.left_value)} ${data.currency} in ${packs} left, ${money(data.left_per_pack)} a pack`}
    >
      <Table label="Still in there">
        <Heads of={["Line", { figure: "expected" }, { figure: "a pack" }, { figure: "about" }]} />
        <tbody>
          {data.left.map((item) => (
            <tr key={item.line} data-row>
              <td>
                <span data-cell>{item.name}</span>
              </td>
              <td className="figure">{hits(item.hits)}</td>
              <td className="figure">{oneIn(data.left_packs / item.hits, "packs")}</td>
              <td className="figure">{money(item.value)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}

/** One box before the first pack: what was paid, what it sells for as it is, what it may hold. */
function BeforeIt({ prospect, currency }: { prospect: NonNullable<Opening["prospect"]>; currency: string }) {
  return (
    <>
      <Section title="One box" point={currency}>
        <Figures
          rows={[
            ["Paid", money(prospect.paid)],
            ["Sealed, today", money(prospect.sealed)],
            ["Most to pay by your rule", money(prospect.most)],
            ["Opened, on average", holds(prospect)],
            ["Chance of less than paid", losesIn(prospect)],
          ]}
        />
      </Section>
      <Aside>{CARE}</Aside>
    </>
  );
}

const CARE = `Cut wrappers away from your fingers; keep a blade off the cards. Average lines do not remember: a dry box
  owes nothing.`;

function Account({ data, running }: { data: Opening; running: boolean }) {
  const end = data.pulled_worth + data.left_value - Number(data.cost ?? NaN);
  return (
    <>
      <Section title={running ? "Running account" : "Account"} point={`about, ${data.currency}`}>
        <Figures
          rows={[
            ["Cost of this", money(data.cost)],
            [running ? "Pulled so far" : "Pulled", money(data.pulled_worth)],
            ...(running
              ? ([
                  ["Still expected", money(data.left_value)],
                  ["Where it will end, about", data.cost === null ? "unknown" : gain(end)],
                ] as const)
              : ([["Result", data.cost === null ? "unknown" : gain(end)]] as const)),
            ...(data.luck === null ? [] : ([["Such boxes that hold less", percent(data.luck)]] as const)),
            ...(Number(data.entertainment) > 0
              ? ([["For fun", percent(Number(data.entertainment))]] as const)
              : []),
          ]}
        />
      </Section>
      <Section title="Against the odds" point="came, of expected">
        <Figures
          rows={data.results.map((item) => [
            item.name,
            `${item.observed} of ${hits(item.expected)}${item.p_more !== null && item.observed > item.expected && item.p_more < 0.1 ? `, by luck ${percent(item.p_more)}` : ""}`,
          ])}
        />
      </Section>
      <Aside>{CARE}</Aside>
    </>
  );
}
