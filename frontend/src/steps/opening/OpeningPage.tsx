import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { client, take, type Schemas } from "../../shared/api/client";
import { asPercent, day, fromPercent, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Quiet, Trouble } from "../../shared/states";
import { Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { useOpenings } from "./queries";
import { Redemptions } from "./Redemptions";

/** What is being opened, what could be, and what came by post. */
export default function OpeningPage() {
  const openings = useOpenings();
  if (openings.isPending) return <Quiet />;
  if (openings.isError) return <Trouble error={openings.error} again={() => void openings.refetch()} />;
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
                <th>Begun</th>
                <th>What</th>
                <th>State</th>
                <th className="figure">packs</th>
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
                  <td>{row.state === "done" ? "finished" : `${row.state}, pack ${row.current_pack}`}</td>
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
  const [boxes, setBoxes] = useState("1");
  const [fun, setFun] = useState("0");
  const [gone, setGone] = useState("0");
  const [trust, setTrust] = useState("100");
  const once = useRef(crypto.randomUUID());
  const start = useAct(
    () =>
      take(
        client.POST("/api/sessions", {
          body: {
            once: once.current,
            item: item.item,
            boxes: Number(boxes) || 0,
            entertainment: asShare(fun),
            gone: Number(gone) || 0,
            gone_seen: 0,
            trust: fromPercent(trust) ?? 1,
            note: null,
          },
        }),
      ),
    { keys: ["sessions"], done: ({ number }) => void navigate(`/opening/${number}`) },
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
      <TextField
        label="Open"
        value={boxes}
        onChange={(event) => setBoxes(event.target.value)}
        sx={{ width: 70 }}
      />
      <TextField
        label="For fun, %"
        value={fun}
        onChange={(event) => setFun(event.target.value)}
        sx={{ width: 90 }}
      />
      <TextField
        label="Packs gone"
        value={gone}
        onChange={(event) => setGone(event.target.value)}
        sx={{ width: 100 }}
      />
      {gone !== "0" && (
        <TextField
          label="Trust in the word, %"
          value={trust}
          onChange={(event) => setTrust(event.target.value)}
          sx={{ width: 150 }}
        />
      )}
      <Button
        variant="outlined"
        color="inherit"
        onClick={() => start.mutate(undefined)}
        disabled={start.isPending}
      >
        Begin a session
      </Button>
    </Box>
  );
}

/** A share of per cent as the API takes it, at most 1. */
function asShare(text: string): string {
  const share = Math.min(Math.max(fromPercent(text) ?? 0, 0), 1);
  return share === 1 ? "1" : String(Number(asPercent(share)) / 100);
}
