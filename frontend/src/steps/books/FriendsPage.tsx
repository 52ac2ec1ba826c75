import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { DaysFromTo } from "../../shared/DaysFromTo";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, gain, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Settle } from "../../shared/Settle";
import { Heads, Table } from "../../shared/Table";
import { useAddress } from "../../shared/useAddress";
import { SmallVerdict } from "../../shared/VerdictLine";
import { BooksTabs } from "./BooksTabs";

/** Friends whose cards one keeps, sends away or sells: what stands open with each, and the account of one. */
export default function FriendsPage() {
  const [params, change] = useAddress();
  const found = useQuery({ queryKey: ["books", "friends"], queryFn: () => take(client.GET("/api/friends")) });
  if (!found.data) return <Answer of={found} />;
  const { friends, currency } = found.data;
  const name = params.get("name") ?? (friends.length === 1 ? friends[0]!.name : "");
  return (
    <PageTitle
      title="Friends"
      plain={
        friends.length
          ? "Whose cards you keep, send away or sell, and what stands open with each."
          : "Nobody’s cards lie here."
      }
      crumbs={[{ name: "Books", to: "/books" }, { name: "Friends" }]}
    >
      <BooksTabs />
      {friends.length === 0 && (
        <p>
          Say on <Link to="/grading">Grading</Link> that a friend’s card lies here to go along; what it costs
          and brings then comes together here.
        </p>
      )}
      {friends.length > 0 && (
        <Section title="Friends" point={`${currency}; over nothing: they owe you`}>
          <Table label="Friends">
            <Heads of={["Friend", { figure: "open" }, { figure: "things here" }]} />
            <tbody>
              {friends.map((it) => (
                <tr key={it.name} data-row>
                  <td>
                    <Button
                      color="inherit"
                      sx={{ p: 0.5, fontWeight: it.name === name ? 700 : 400 }}
                      onClick={() => change({ name: it.name })}
                    >
                      {it.name}
                    </Button>
                  </td>
                  <td className="figure">{gain(Number(it.open))}</td>
                  <td className="figure">{count(it.here)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Section>
      )}
      {name && (
        <Statement
          name={name}
          now={Number(friends.find((it) => it.name === name)?.open ?? 0)}
          first={params.get("first") ?? ""}
          last={params.get("last") ?? ""}
        />
      )}
    </PageTitle>
  );
}

interface StatementProps {
  name: string;
  /** What stands open today, whatever days are shown. */
  now: number;
  first: string;
  last: string;
}

function Statement({ name, now, first, last }: StatementProps) {
  const query = { name, ...(first ? { first } : {}), ...(last ? { last } : {}) };
  const found = useQuery({
    queryKey: ["books", "friends", query],
    queryFn: ({ signal }) => take(client.GET("/api/friends/statement", { params: { query }, signal })),
    placeholderData: (before) => (before?.name === name ? before : undefined),
  });
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  const asked = new URLSearchParams(query).toString();
  return (
    <>
      <Section title={name} point={data.currency}>
        <SmallVerdict verdict={data.verdict} />
        <FieldRow>
          <DaysFromTo first={first} last={last} />
        </FieldRow>
        <Table label={`The account of ${name}`}>
          <Heads of={["Day", "what", { figure: "owes more, less" }, { figure: "open" }]} />
          <tbody>
            {Number(data.before) !== 0 && (
              <tr data-row>
                <td />
                <td>open before</td>
                <td />
                <td className="figure">{money(data.before)}</td>
              </tr>
            )}
            {data.lines.map((it, at) => (
              <tr key={at} data-row>
                <td className="day">{day(it.day)}</td>
                <td>{it.text}</td>
                <td className="figure">{gain(Number(it.change))}</td>
                <td className="figure">{money(it.open)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
        {data.lines.length === 0 && <Box sx={{ my: 1 }}>Nothing was booked then.</Box>}
        <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", my: 1.5 }}>
          {(["pdf", "csv", "xlsx"] as const).map((kind) => (
            <Button
              key={kind}
              variant={kind === "pdf" ? "outlined" : "text"}
              color="inherit"
              href={`/api/friends/statement.${kind}?${asked}`}
              download
            >
              Statement ({kind.toUpperCase()})
            </Button>
          ))}
        </Box>
        {now !== 0 && <Settle key={name} friends={[name]} comesIn={now > 0} />}
      </Section>
      <Things things={data.things} />
    </>
  );
}

function Things({ things }: { things: readonly Schemas["FriendsThingOut"][] }) {
  if (things.length === 0) return null;
  return (
    <Section title="Their things" point="as they are now">
      <Table label="Their things">
        <Heads of={["What", "grade", "where", { figure: "brought" }]} />
        <tbody>
          {things.map((it) => (
            <tr key={it.item} data-row>
              <td>
                <Link to={`/stock/${it.item}`}>{it.name}</Link>
                {it.count > 1 && `, ${count(it.count)} of it`}
              </td>
              <td>{it.grade}</td>
              <td>{it.state === "held" ? (it.place ?? "here") : it.state.replaceAll("_", " ")}</td>
              <td className="figure">{it.brought === null ? "" : money(it.brought)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}
