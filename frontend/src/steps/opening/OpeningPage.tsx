import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { client, take, type Schemas } from "../../shared/api/client";
import { day, fromPercent, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { useOpenings } from "./queries";
import { Redemptions } from "./Redemptions";
import { keyed, useOnce } from "../../shared/useOnce";
import { Answer } from "../../shared/Answer";

/** What is being opened, what could be, and what came by post. */
export default function OpeningPage() {
  const openings = useOpenings();
  if (!openings.data) return <Answer of={openings} />;
  const { verdict, sessions, openable } = openings.data;
  return (
    <PageTitle title="Opening" verdict={verdict} crumbs={[{ name: "Opening" }]}>
      <Section title="Sealed, on the desk" point="what it cost stays with it until it is opened">
        {openable.length === 0 && (
          <Box sx={{ py: 1, color: "text.secondary" }}>
            Nothing sealed is here. What you buy in a format of a release can be opened once it is received.
          </Box>
        )}
        {openable.map((item) => (
          <Openable key={item.item} item={item} />
        ))}
      </Section>
      <Section
        title="Sessions"
        point={<Link to="/opening/-/results">odds against results, and weights</Link>}
      >
        {sessions.length > 0 && (
          <Table label="Sessions">
            <thead>
              <tr>
                <th scope="col">Begun</th>
                <th scope="col">What</th>
                <th scope="col">State</th>
                <th scope="col" className="figure">
                  packs
                </th>
              </tr>
            </thead>
            <tbody>
              {sessions.map((row) => (
                <tr key={row.number} data-row>
                  <td>{day(row.started_on)}</td>
                  <td>
                    <Link data-cell to={`/opening/${row.number}`}>
                      {row.name}
                    </Link>
                  </td>
                  <td>
                    {row.state === "done"
                      ? "finished"
                      : row.state === "undone"
                        ? "taken back"
                        : `${row.state}, pack ${row.current_pack}`}
                  </td>
                  <td className="figure">{row.packs}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
      </Section>
      <Redemptions />
    </PageTitle>
  );
}

function Openable({ item }: { item: Schemas["OpenableOut"] }) {
  const navigate = useNavigate();
  const [typed, setTyped] = useState({ boxes: "1", fun: "", gone: "0", trust: "100" });
  const [seen, setSeen] = useState<Record<string, string>>({});
  const once = useOnce();
  const isWhole = (text: string) => /^\d{1,4}$/.test(text.trim());
  const isPercent = (text: string) => {
    const share = fromPercent(text);
    return share !== null && share >= 0 && share <= 1;
  };
  const wrong = {
    boxes: !isWhole(typed.boxes) || Number(typed.boxes) < 1,
    fun: typed.fun.trim() !== "" && !isPercent(typed.fun),
    gone: !isWhole(typed.gone),
    trust: !isPercent(typed.trust),
  };
  const begun = typed.gone.trim() !== "0";
  const wrongSeen = item.promised.filter(({ line }) => !isWhole(seen[line] ?? "0"));
  const start = useAct(
    () =>
      take(
        client.POST("/api/sessions", {
          body: {
            item: item.item,
            boxes: Number(typed.boxes),
            entertainment: typed.fun.trim() === "" ? null : (fromPercent(typed.fun) ?? 0).toFixed(4),
            gone: Number(typed.gone),
            gone_hits: begun
              ? Object.fromEntries(item.promised.map(({ line }) => [line, Number(seen[line] ?? "0")]))
              : {},
            trust: begun ? (fromPercent(typed.trust) ?? 1) : 1,
            note: null,
          },
          ...keyed(once.key()),
        }),
      ),
    { keys: ["sessions"], done: ({ number }) => void navigate(`/opening/${number}`) },
  );
  const field = (name: keyof typeof typed, label: string, width: number) => (
    <TextField
      label={label}
      value={typed[name]}
      onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
      error={wrong[name]}
      helperText={
        wrong[name] &&
        (name === "fun" || name === "trust" ? "0 to 100" : name === "boxes" ? "1 or more" : "a whole number")
      }
      sx={{ width }}
    />
  );
  return (
    <Box
      sx={{
        display: "flex",
        flexWrap: "wrap",
        gap: 1.5,
        py: 1.25,
        alignItems: "center",
        borderBottom: 1,
        borderColor: "divider",
      }}
    >
      <Box sx={{ flex: 1, minWidth: 260 }}>
        <b>
          {item.count} × {item.name}
        </b>
        <Box component="span" sx={{ color: "text.secondary" }}>
          , cost {money(item.basis)}
        </Box>
      </Box>
      {item.count > 1 && field("boxes", "Open", 80)}
      {field("fun", "For fun, %", 100)}
      {item.packs_gone === 0 && item.packs > 1 && field("gone", "Packs gone", 110)}
      {begun &&
        item.promised.map(({ line, name, count }) => (
          <TextField
            key={line}
            label={`${name} in them, of ${count}`}
            value={seen[line] ?? "0"}
            onChange={(event) => setSeen({ ...seen, [line]: event.target.value })}
            error={!isWhole(seen[line] ?? "0")}
            sx={{ width: 190 }}
          />
        ))}
      {begun && field("trust", "Trust in the word, %", 150)}
      <Button
        variant="outlined"
        color="inherit"
        onClick={() => start.mutate(undefined)}
        disabled={start.isPending || wrongSeen.length > 0 || Object.values(wrong).some(Boolean)}
      >
        Begin a session
      </Button>
    </Box>
  );
}
