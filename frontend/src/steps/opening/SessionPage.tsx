import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { Key } from "../../shared/Key";
import { KnownNotes } from "../../shared/KnownNotes";
import { PageTitle } from "../../shared/PageTitle";
import { TwoColumns } from "../../shared/TwoColumns";
import { useKey } from "../../shared/keys/useKey";
import { DivideAgain } from "./DivideAgain";
import { HotBox } from "./HotBox";
import { OffRecord } from "./OffRecord";
import { lastToTakeBack, lookAhead, type Opening } from "./entering";
import { PullEntry, restOf } from "./PullEntry";
import { useOpening, useOpeningActs } from "./queries";
import { useSending, type Sending } from "./sending";
import { Finish, Way } from "./Finish";
import { Account, BeforeIt, StillInside } from "./Inside";
import { Preparing } from "./Preparing";
import { PackStrip } from "./PackStrip";
import { Pulls } from "./Pulls";

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
            {data.prospect && running && <Preparing number={data.number} />}
            {data.prospect && <BeforeIt prospect={data.prospect} currency={data.currency} />}
            {data.state !== "undone" && !data.prospect && <Account data={data} running={running} />}
            {running && <KnownNotes release={data.release} />}
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
