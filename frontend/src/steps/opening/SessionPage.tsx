import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Figures } from "../../shared/Figures";
import { gain, hits, money, oneIn, percent } from "../../shared/format";
import { Key } from "../../shared/Key";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside, Quiet, Trouble } from "../../shared/states";
import { Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { useShortcut } from "../../shared/useShortcut";
import { DivideAgain } from "./DivideAgain";
import { HotBox } from "./HotBox";
import { OffRecord } from "./OffRecord";
import { PullEntry } from "./PullEntry";
import { useOpening, useOpeningActs, type Opening } from "./queries";

/** An opening, pack by pack: what came out, what is still in there, and the running account. */
export default function SessionPage() {
  const { number = "" } = useParams();
  const opening = useOpening(Number(number));
  const acts = useOpeningActs(Number(number));
  const data = opening.data;
  const running = data?.state === "running" || data?.state === "paused";
  const next = () => data && running && void acts.turn(Math.min(data.current_pack + 1, data.packs), true);
  useShortcut("mod+z", () => void (running && acts.undo()));
  useShortcut("bracketright", next);
  useShortcut(
    "bracketleft",
    () =>
      void (data && running && data.current_pack > data.gone + 1 && acts.turn(data.current_pack - 1, false)),
  );
  if (opening.isPending) return <Quiet />;
  if (opening.isError || !data) return <Trouble error={opening.error} again={() => void opening.refetch()} />;
  return (
    <PageTitle
      title={`Opening ${data.release_title}`}
      verdict={data.verdict}
      crumbs={[
        { name: "Opening", to: "/opening" },
        { name: `${data.release_title}, ${data.format_name}` },
        {
          name: running
            ? `pack ${data.current_pack} of ${data.packs}`
            : data.state === "done"
              ? "finished"
              : "taken back",
        },
      ]}
    >
      <TwoColumns
        main={
          <>
            <PackStrip data={data} turn={(pack) => running && void acts.turn(pack, false)} />
            {running && (
              <>
                <PullEntry data={data} log={acts.log} next={next} />
                <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, my: 1.5 }}>
                  <Button
                    variant="outlined"
                    color="inherit"
                    onClick={next}
                    disabled={data.current_pack >= data.packs && data.pack_room === 0}
                  >
                    {data.current_pack >= data.packs ? "Rest is base" : "Rest is base, next pack"}&nbsp;&nbsp;
                    <Key>]</Key>
                  </Button>
                  <Button color="inherit" onClick={() => void acts.undo()} disabled={!data.pulls.length}>
                    Take the last back&nbsp;&nbsp;<Key>Ctrl Z</Key>
                  </Button>
                  <Box sx={{ flex: 1 }} />
                  {data.state === "running" && (
                    <Button color="inherit" onClick={() => void acts.pause()}>
                      Put it aside
                    </Button>
                  )}
                  <Finish data={data} finish={acts.finish} />
                </Box>
              </>
            )}
            <Pulls data={data} running={running} takeBack={acts.takeBack} />
            {data.state === "done" && <DivideAgain data={data} />}
            {running && data.left_packs > 0 && <StillInside data={data} />}
            {running && <OffRecord data={data} log={acts.totals} />}
          </>
        }
        aside={
          <>
            {data.state !== "undone" && <Account data={data} running={running} />}
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

function PackStrip({ data, turn }: { data: Opening; turn: (pack: number) => void }) {
  const byPack = new Map<number, { cards: number; hits: number }>();
  const bases = new Set(data.lines.filter((line) => line.is_base).map((line) => line.id));
  for (const pull of data.pulls) {
    const found = byPack.get(pull.pack) ?? { cards: 0, hits: 0 };
    found.cards += pull.count;
    if (!bases.has(pull.line)) found.hits += pull.count;
    byPack.set(pull.pack, found);
  }
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, mb: 1.5 }}>
      {Array.from({ length: data.packs }, (_, i) => i + 1).map((pack) => {
        const found = byPack.get(pack);
        const gone = pack <= data.gone;
        const over = data.state === "done" || data.state === "undone";
        const here = pack === data.current_pack && !over;
        return (
          <Button
            key={pack}
            color="inherit"
            disabled={gone || over}
            aria-current={here ? "step" : undefined}
            aria-label={`${pack}: pack ${gone ? "gone before" : `with ${found?.cards ?? 0} logged, ${found?.hits ?? 0} hits`}`}
            onClick={() => turn(pack)}
            sx={{
              minWidth: 38,
              width: 38,
              height: 50,
              p: 0.5,
              alignItems: "flex-start",
              justifyContent: "flex-start",
              fontSize: 12,
              border: 1,
              borderColor: here ? "tone.ink" : "divider",
              bgcolor: here ? "tone.marker" : found || gone ? "divider" : "background.paper",
              color: here ? "#1C2733" : "text.primary",
              position: "relative",
            }}
          >
            {pack}
            <Box sx={{ position: "absolute", bottom: 5, left: 5, display: "flex", gap: "2px" }}>
              {Array.from({ length: Math.min(found?.hits ?? 0, 4) }, (_, i) => (
                <Box key={i} sx={{ width: 6, height: 10, bgcolor: "tone.gain" }} />
              ))}
            </Box>
          </Button>
        );
      })}
    </Box>
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
}: {
  data: Opening;
  finish: (stoppedHot: boolean, restIsBase: boolean) => Promise<void>;
}) {
  const [asking, setAsking] = useState(false);
  const [hot, setHot] = useState(false);
  const left = untouched(data);
  const [rest, setRest] = useState("sealed");
  const packs = left === 1 ? "The pack" : `The ${left} packs`;
  if (!asking) {
    return (
      <Button variant="contained" onClick={() => setAsking(true)}>
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
      <Button variant="contained" onClick={() => void finish(hot, rest === "base")}>
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

function Pulls({
  data,
  running,
  takeBack,
}: {
  data: Opening;
  running: boolean;
  takeBack: (pull: number) => Promise<void>;
}) {
  const shown = running ? data.pulls.filter((pull) => pull.pack === data.current_pack) : data.pulls;
  const logged = shown.reduce((sum, pull) => sum + pull.count, 0);
  return (
    <Section
      title={
        running ? `Pack ${data.current_pack}` : data.state === "done" ? "What came out" : "What was logged"
      }
      point={running ? `${logged} of ${data.pack_cards} logged` : `${logged} cards`}
    >
      {shown.length === 0 ? (
        <Box sx={{ py: 1, color: "text.secondary" }}>Nothing of this pack is logged yet.</Box>
      ) : null}
      <Table label="Pulls">
        <thead>
          <tr>
            {!running && <th className="figure">pack</th>}
            <th>No.</th>
            <th>Subject</th>
            <th>Line</th>
            <th>serial</th>
            <th>flaw</th>
            <th className="figure">about</th>
            {running && <th />}
          </tr>
        </thead>
        <tbody>
          {[...shown].reverse().map((pull) => (
            <tr key={pull.number} data-row>
              {!running && <td className="figure">{pull.pack}</td>}
              <td>
                <span tabIndex={0} data-cell>
                  {pull.card ?? ""}
                </span>
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
                    onClick={() => void takeBack(pull.number)}
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
      {data.state === "done" && (
        <Box sx={{ mt: 1 }}>
          <Link to={`/stock?session=${data.number}`}>What each card carries, in stock</Link>
        </Box>
      )}
    </Section>
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
        <thead>
          <tr>
            <th>Line</th>
            <th className="figure">expected</th>
            <th className="figure">a pack</th>
            <th className="figure">about</th>
          </tr>
        </thead>
        <tbody>
          {data.left.map((item) => (
            <tr key={item.line} data-row>
              <td>
                <span tabIndex={0} data-cell>
                  {item.name}
                </span>
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
      <Aside>
        Cut wrappers away from your fingers; keep a blade off the cards. Average lines do not remember: a dry
        box owes nothing.
      </Aside>
    </>
  );
}
