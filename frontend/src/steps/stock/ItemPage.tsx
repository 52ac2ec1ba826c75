import Box from "@mui/material/Box";
import { EntryRow } from "../../shared/forms/EntryRow";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { cardName, CardSearch } from "../../shared/CardSearch";
import { ConditionChoice } from "../../shared/ConditionChoice";
import { faultAt } from "../../shared/faults";
import { Figures } from "../../shared/Figures";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, money } from "../../shared/format";
import { CountField, MoneyField, OtherFaults } from "../../shared/forms/fields";
import { amount, whole } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { keyed } from "../../shared/useOnce";
import { KnownNotes } from "../../shared/KnownNotes";
import { Photos } from "../../shared/Photos";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { TakeBack } from "../../shared/TakeBack";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { useFormats } from "../../shared/useFormats";
import { ValueField } from "../../shared/ValueField";
import { useCorrection } from "./correcting";
import { Answer } from "../../shared/Answer";
import { LEAVE_WORDS, LEAVES, type Leaves } from "./leaving";
import { WaysOut } from "./WaysOut";

type Detail = Schemas["ItemDetailOut"];

/** A thing that is owned, where it came from, and all that happened to it. */
export default function ItemPage() {
  const { number = "" } = useParams();
  const item = useQuery({
    queryKey: ["items", "one", number],
    queryFn: () => take(client.GET("/api/items/{number}", { params: { path: { number: Number(number) } } })),
  });
  if (!item.data) return <Answer of={item} />;
  const data = item.data;
  return (
    <PageTitle
      title={data.name}
      verdict={data.verdict}
      crumbs={[{ name: "Stock", to: "/stock" }, { name: data.name }]}
    >
      <TwoColumns
        main={
          <>
            {data.state === "held" && data.kind !== "supply" && <WaysOut item={data.number} />}
            <History data={data} />
            {data.kind !== "supply" && <Photos item={data.number} />}
          </>
        }
        aside={
          <>
            <Facts data={data} />
            {data.release && data.identified && (
              <KnownNotes release={data.release} line={data.line} card={data.card} />
            )}
            {data.state === "held" && data.count > 1 && <Split data={data} />}
            {data.state === "held" && <TakeOut data={data} />}
            {["lost", "given_away", "returned"].includes(data.state) && <HereAgain data={data} />}
          </>
        }
      />
    </PageTitle>
  );
}

function History({ data }: { data: Detail }) {
  return (
    <Section title="What happened to it" point="nothing is rewritten">
      <Table label="History of the item">
        <Heads of={["Day", "What", "state", { figure: "carries" }, { hidden: "actions" }]} />
        <tbody>
          {data.history.map((event, at) => (
            <tr key={at} data-row>
              <td className="day">
                <span data-cell>{day(event.day)}</span>
              </td>
              <td>{event.text}</td>
              <td>{event.state.replaceAll("_", " ")}</td>
              <td className="figure">{money(event.basis)}</td>
              <td className="figure">
                <TakeBack entry={event.entry} booked={event} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}

function Facts({ data }: { data: Detail }) {
  const correct = useCorrection(data);
  const [sought, setSought] = useState("");
  const keep = (change: Parameters<typeof correct.mutate>[0]) => correct.mutate(change);
  const field = (key: "name" | "serial" | "place" | "note" | "value", label: string, width: number) => (
    <ValueField
      label={label}
      value={data[key] ?? ""}
      commit={(text) => keep({ [key]: text || null })}
      fault={faultAt(correct.error, key) ?? null}
      width={width}
    />
  );
  return (
    <Section title="What it is" point={data.state.replace("_", " ")}>
      <Figures
        rows={[
          ["Count", count(data.count)],
          ["Cost", money(data.basis)],
          ...(data.kind === "sealed" && data.identified
            ? []
            : [[data.kind === "sealed" ? "Format" : "Card", identity(data)] as [string, string]]),
          ["Worth", worthWords(data)],
          ["Since", data.acquired_on ? day(data.acquired_on) : "unknown"],
        ]}
      />
      <Box sx={{ mt: 2 }}>
        {field("name", "What it is called", 284)}
        {data.kind === "sealed" && <FormatChoice data={data} keep={keep} />}
        {data.kind !== "sealed" && (
          <Box sx={{ mb: 2 }}>
            <CardSearch
              label={data.identified ? "It is another card" : "Which card it is, by number or subject"}
              value={sought}
              type={setSought}
              pick={(card) => {
                setSought("");
                keep({
                  name: cardName(card),
                  release: card.release,
                  line: card.line,
                  card: card.number,
                  variant: card.variant || null,
                });
              }}
              width={284}
            />
          </Box>
        )}
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5 }}>
        <Box sx={{ mb: "22px" }}>
          <ConditionChoice
            value={data.condition ?? ""}
            choose={(condition) => keep({ condition })}
            width={136}
          />
        </Box>
        {field("value", "Worth of all, about", 136)}
        {field("serial", "Serial number", 136)}
        {field("place", "Place", 136)}
        {field("note", "Note", 284)}
      </Box>
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={data.never_for_sale}
            onChange={(event) => keep({ never_for_sale: event.target.checked })}
          />
        }
        label="never for sale"
      />
      {data.basis === null && data.state === "held" && <CostFound data={data} />}
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, fontSize: 13, lineHeight: "24px", mt: 1 }}>
        {["card", "stack"].includes(data.kind) && data.state === "held" && (
          <Link to={`/stock/${data.number}/condition`}>Mark its flaws</Link>
        )}
        {data.kind === "card" && data.state === "held" && data.identified && (
          <Link to={`/grading/-/card/${data.number}`}>Is it worth grading?</Link>
        )}
        {data.kind === "card" && data.history.some((it) => it.text.startsWith("graded ")) && (
          <Link to={`/grading/-/opinion/${data.number}`}>Its grades, and what now</Link>
        )}
        {["stack", "other"].includes(data.kind) && data.state === "held" && (
          <Link to={`/stock/-/plan?item=${data.number}`}>Plan its sorting</Link>
        )}
        {data.state === "held" && data.kind !== "supply" && !data.never_for_sale && (
          <Link to={`/selling/-/new?items=${data.number}`}>It is sold</Link>
        )}
        {data.purchase && <Link to={`/buying/${data.purchase}`}>Its purchase</Link>}
        {data.session && <Link to={`/opening/${data.session}`}>The opening it came from</Link>}
      </Box>
    </Section>
  );
}

/** Where a worth comes from, in words. */
const SOURCES: Record<NonNullable<Detail["value_source"]>, string> = {
  owner: "as you said",
  comps: "from sales",
  sheet: "by the sheet",
  borrowed: "borrowed",
  book: "by a book",
  line: "by its line",
};

function worthWords(data: Detail): string {
  if (!data.value_day || !data.value_source) return "not known";
  return `${SOURCES[data.value_source]}, ${day(data.value_day)}`;
}

/** What it is by the releases that are known, or what was said of it that nothing matches. */
function identity(data: Detail): string {
  const parts = [data.card && `no. ${data.card}`, data.variant, data.line ?? data.format, data.release];
  const words = parts.filter(Boolean).join(", ");
  if (data.identified) return words;
  return words ? `not known: ${words}` : "not said";
}

/** Which format a sealed thing is: the wrong series is corrected here. */
function FormatChoice({
  data,
  keep,
}: {
  data: Detail;
  keep: (change: { release: string; format: string; name: string }) => void;
}) {
  const formats = useFormats();
  const value = `${data.release}/${data.format}`;
  const known = formats.data?.some((item) => `${item.release}/${item.format}` === value);
  return (
    <TextField
      select
      label="Which format it is"
      value={known ? value : ""}
      onChange={(event) => {
        const chosen = formats.data?.find((item) => `${item.release}/${item.format}` === event.target.value);
        if (chosen) keep({ release: chosen.release, format: chosen.format, name: chosen.name });
      }}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      sx={{ width: 284, mb: 1.5 }}
    >
      {!known && <MenuItem value="">not known</MenuItem>}
      {formats.data?.map((item) => (
        <MenuItem key={`${item.release}/${item.format}`} value={`${item.release}/${item.format}`}>
          {item.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

const COST = z.object({ basis: amount });

function CostFound({ data }: { data: Detail }) {
  const { form, submit, busy, faults } = useEntry({
    draft: `cost of ${data.number}`,
    empty: { basis: "" },
    shape: COST,
    send: ({ basis }) =>
      take(
        client.PUT("/api/items/{number}/basis", {
          params: { path: { number: data.number } },
          body: { version: data.version, basis },
        }),
      ),
    keys: ["items", "books"],
    text: "Booked against opening equity.",
  });
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Book it">
      <MoneyField control={form.control} name="basis" label="What it cost, now found" width={180} />
    </EntryRow>
  );
}

function HereAgain({ data }: { data: Detail }) {
  const back = useAct(
    () =>
      take(
        client.POST("/api/items/{number}/back", {
          params: { path: { number: data.number } },
          body: { version: data.version },
        }),
      ),
    { keys: ["items", "books"], text: "It is in stock again, with its cost." },
  );
  return (
    <Section title="It is here again" point="found, or it came back">
      <Button
        variant="outlined"
        color="inherit"
        disabled={back.isPending}
        onClick={() => back.mutate(undefined)}
        sx={{ mt: 1 }}
      >
        Put it back into stock
      </Button>
    </Section>
  );
}

/** Some of a stack become a thing of their own, with their part of the cost. */
function Split({ data }: { data: Detail }) {
  const navigate = useNavigate();
  const { form, submit, busy, faults } = useEntry({
    empty: { count: "" },
    shape: z.object({ count: whole }),
    send: (body, key) =>
      take(
        client.POST("/api/items/{number}/split", {
          params: { path: { number: data.number } },
          body,
          ...keyed(key),
        }),
      ),
    keys: ["items", "books"],
    text: "Split off, with its part of the cost.",
    done: ({ number }) => void navigate(`/stock/${number}`),
  });
  return (
    <Section title="Split it" point={`${count(data.count)} of them`}>
      <Box component="form" noValidate onSubmit={submit}>
        <FieldRow>
          <CountField control={form.control} name="count" label="How many" />
          <Button type="submit" variant="outlined" color="inherit" disabled={busy}>
            Split off
          </Button>
        </FieldRow>
        <OtherFaults faults={faults} />
      </Box>
    </Section>
  );
}

function TakeOut({ data }: { data: Detail }) {
  const [why, setWhy] = useState("");
  const [how, setHow] = useState<Leaves>("gift");
  const out = useAct(
    () =>
      take(
        client.POST("/api/items/{number}/out", {
          params: { path: { number: data.number } },
          body: { version: data.version, ...LEAVES[how].sent, why },
        }),
      ),
    { keys: ["items", "books"], text: "Booked." },
  );
  return (
    <Section title="It leaves the stock" point="not by a sale">
      <FieldRow>
        <ChoiceBox
          label="It is"
          value={how}
          set={(value) => setHow(value as Leaves)}
          choices={LEAVE_WORDS}
          width={170}
        />
        <TextField
          label="Why, to whom"
          value={why}
          onChange={(event) => setWhy(event.target.value)}
          sx={{ width: 190 }}
        />
        <Button
          variant="outlined"
          color="inherit"
          disabled={out.isPending}
          onClick={() => out.mutate(undefined)}
          sx={{ mt: "20px" }}
        >
          Take it out
        </Button>
      </FieldRow>
      <Aside>Its cost goes with it, into the books. This stays on record.</Aside>
    </Section>
  );
}
