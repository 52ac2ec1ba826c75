import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link, useNavigate } from "react-router";
import { Answer } from "../shared/Answer";
import type { Schemas } from "../shared/api/client";
import { day, money } from "../shared/format";
import { Key } from "../shared/Key";
import { useKey } from "../shared/keys/useKey";
import { PageTitle } from "../shared/PageTitle";
import { Section } from "../shared/Section";
import { Heads, Table } from "../shared/Table";
import { plain, words } from "../shared/VerdictLine";
import { useDesk } from "./deskQuery";
import { lettersFor } from "./letters";
import { useSpending } from "./spendingQuery";

type Job = Schemas["JobOut"];

/** This month's spending, in words; over the limit it says where to find help. */
function SpentLine() {
  const spending = useSpending();
  if (!spending.data) return null;
  const { verdict, state } = spending.data;
  return (
    <Box
      sx={{
        mb: 3,
        pl: 1.25,
        borderLeft: 3,
        borderColor: state === "over" || state === "near" ? "tone.marker" : "divider",
      }}
    >
      <Link to="/settings/money#spending" style={{ textDecoration: "none" }}>
        {plain(verdict.sentence)}
      </Link>
      {verdict.rests_on.length > 0 && (
        <Box role="status" sx={{ mt: 0.5 }}>
          {plain(verdict.rests_on)}
        </Box>
      )}
    </Box>
  );
}

/** What to do today, in order, each with the one act that settles it; the week; and what is held. */
export default function Desk() {
  const desk = useDesk();
  if (!desk.data) return <Answer of={desk} />;
  const { verdict, jobs, week, held, currency } = desk.data;
  return (
    <PageTitle title="Desk" verdict={verdict}>
      <SpentLine />
      {jobs.length > 0 ? <Jobs jobs={jobs} currency={currency} /> : held.things === 0 && <FirstDay />}
      {jobs.some((job) => job.day) && <Week days={week} />}
      {held.things > 0 && (
        <Section title="What you hold" point={<Link to="/stock">Stock</Link>}>
          <Typography>{words(held.verdict)}</Typography>
        </Section>
      )}
    </PageTitle>
  );
}

function FirstDay() {
  return (
    <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
      <Button component={Link} to="/buying/-/new" variant="contained">
        Record a purchase
      </Button>
      <Button component={Link} to="/products/-/import" variant="outlined" color="inherit">
        Bring in a product sheet
      </Button>
      <Button component={Link} to="/stock#bring-in" variant="outlined" color="inherit">
        Bring in what you have
      </Button>
    </Box>
  );
}

function Jobs({ jobs, currency }: { jobs: Job[]; currency: string }) {
  const navigate = useNavigate();
  const letters = lettersFor(jobs.map((job) => job.label));
  const used = letters.filter((letter) => letter !== null);
  useKey(
    used,
    "do what has that letter",
    (event) => {
      const job = jobs[letters.indexOf(event.key.toLowerCase())];
      if (job) void navigate(job.path);
    },
    { on: used.length > 0 },
  );
  return (
    <Section
      title="To do"
      point={`at stake, ${currency}; what is due first, then what pays most for the time`}
    >
      <Table label="To do">
        <Heads
          of={[
            { hidden: "when" },
            { hidden: "what" },
            { figure: "at stake" },
            { figure: "about" },
            { hidden: "what settles it" },
          ]}
        />
        <tbody>
          {jobs.map((job, at) => (
            <tr key={job.path + job.text} data-row>
              <td className="day">{job.when === "today" ? <b>today</b> : whenWords(job)}</td>
              <td>{job.text}</td>
              <td className="figure">{job.stake === null ? "" : <b>{money(job.stake)}</b>}</td>
              <td className="figure">{minutes(job.minutes)}</td>
              <td className="figure">
                <Button
                  component={Link}
                  to={job.path}
                  data-cell
                  variant={at === 0 ? "contained" : "outlined"}
                  color={at === 0 ? "primary" : "inherit"}
                  aria-label={`${job.label}: ${job.text}`}
                >
                  {job.label}
                </Button>
                <Box
                  component="span"
                  sx={{ display: { xs: "none", md: "inline-block" }, width: 30, pl: 0.75 }}
                >
                  {letters[at] && <Key>{letters[at].toUpperCase()}</Key>}
                </Box>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}

function whenWords(job: Job): string {
  return job.day ? `by ${day(job.day)}` : job.when;
}

function minutes(many: number): string {
  return many < 90 ? `${Math.max(1, Math.round(many))} min` : `${(many / 60).toFixed(1)} h`;
}

/** Seven days from today, and what is due on each. */
function Week({ days }: { days: Schemas["DayMarksOut"][] }) {
  return (
    <Section
      title="The week"
      point={
        <a href="/api/desk.ics" download>
          as a calendar file
        </a>
      }
    >
      <Box
        component="ol"
        sx={{
          listStyle: "none",
          m: 0,
          p: 0,
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "repeat(7, minmax(0, 1fr))" },
          borderBottom: 1,
          borderColor: "divider",
        }}
      >
        {days.map(({ day: date, marks }, at) => (
          <Box
            component="li"
            key={date}
            sx={{
              minHeight: { sm: 72 },
              py: 0.5,
              px: 1,
              fontSize: 13,
              display: { xs: marks.length > 0 || at === 0 ? "block" : "none", sm: "block" },
              bgcolor: at === 0 ? "background.paper" : undefined,
            }}
          >
            <Box
              sx={{ fontWeight: at === 0 ? 700 : 400, color: at === 0 ? "text.primary" : "text.secondary" }}
            >
              {weekday(date)}
            </Box>
            {marks.map((mark, place) => (
              <div key={place}>{mark}</div>
            ))}
          </Box>
        ))}
      </Box>
    </Section>
  );
}

function weekday(date: string): string {
  const [year, month, at] = date.split("-").map(Number);
  return new Date(year!, month! - 1, at).toLocaleDateString("en-GB", { weekday: "short", day: "numeric" });
}
