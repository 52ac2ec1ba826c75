import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { client, inWords, ProblemError, take, type Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { faultAt } from "../../shared/faults";
import { count, day, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside, Quiet, Trouble } from "../../shared/states";
import { Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { ValueField } from "../../shared/ValueField";
import { useCorrection } from "./correcting";

type Item = Schemas["ItemOut"];
const TAKE = 50;
const NAMES = [
  "find",
  "kind",
  "state",
  "basis",
  "purchase",
  "session",
  "sort",
  "descending",
  "start",
] as const;

/** Everything owned, filtered, sorted and paged by the server. */
export default function StockPage() {
  const [params, setAddress] = useAddress();
  const [, setParams] = useSearchParams();
  const query = Object.fromEntries(
    NAMES.flatMap((name) => (params.get(name) ? [[name, params.get(name)]] : [])),
  );
  const items = useQuery({
    queryKey: ["items", query],
    queryFn: () => take(client.GET("/api/items", { params: { query: { ...query, take: TAKE } as never } })),
    placeholderData: keepPreviousData,
  });
  const set = (change: Record<string, string>) => setAddress({ start: null, ...change });
  if (items.isPending) return <Quiet />;
  if (items.isError) return <Trouble error={items.error} again={() => void items.refetch()} />;
  const data = items.data;
  const start = Number(params.get("start") ?? 0);
  const filtered = new URLSearchParams(params);
  for (const name of ["sort", "descending", "start"]) filtered.delete(name);
  const sortBy = (sort: string) =>
    set({
      sort,
      descending: params.get("sort") === sort && params.get("descending") !== "false" ? "false" : "true",
    });
  const head = (sort: string, words: string) => (
    <Button
      color="inherit"
      onClick={() => sortBy(sort)}
      sx={{ p: 0, minWidth: 0, fontSize: 12, fontWeight: 400 }}
    >
      {words}
      {params.get("sort") === sort ? (params.get("descending") === "false" ? " ↑" : " ↓") : ""}
    </Button>
  );
  return (
    <PageTitle
      title="Stock"
      plain={`${count(data.count)} cards and things; they cost ${money(data.basis)}${data.unknown_basis ? `, and of ${count(data.unknown_basis)} nobody knows` : ""}.`}
      crumbs={[{ name: "Stock" }]}
    >
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2 }}>
        <ValueField
          label="Find"
          value={params.get("find") ?? ""}
          commit={(find) => set({ find })}
          width={240}
        />
        <Select
          label="Kind"
          value={params.get("kind") ?? ""}
          set={(kind) => set({ kind })}
          choices={{ "": "all", sealed: "sealed", card: "single cards", stack: "stacks", other: "other" }}
        />
        <Select
          label="State"
          value={params.get("state") ?? ""}
          set={(state) => set({ state })}
          choices={{
            "": "held",
            all: "all",
            in_transit: "on its way",
            opened: "opened",
            given_away: "given away",
            lost: "lost",
            undone: "taken back",
          }}
        />
        <Select
          label="Basis"
          value={params.get("basis") ?? ""}
          set={(basis) => set({ basis })}
          choices={{ "": "all", known: "known", unknown: "unknown" }}
        />
        <SavedFilters params={params} setParams={setParams} />
      </Box>
      <Section
        title={`${count(data.total)} rows`}
        point={`said to be worth ${money(data.value)}; estimates of the day they were said`}
      >
        {data.items.length === 0 ? (
          <Box sx={{ py: 1, color: "text.secondary" }}>
            Nothing like that. What you buy and open comes here; bring in below what was there before.
          </Box>
        ) : (
          <Table label="Items">
            <thead>
              <tr>
                <th>{head("name", "what")}</th>
                <th className="figure">{head("count", "count")}</th>
                <th>state</th>
                <th>condition</th>
                <th>{head("place", "place")}</th>
                <th className="figure">{head("basis", "cost")}</th>
                <th className="figure">{head("value", "about worth")}</th>
                <th>{head("acquired_on", "since")}</th>
                <th>for sale</th>
              </tr>
            </thead>
            <tbody>
              {data.items.map((item) => (
                <Row key={item.number} item={item} />
              ))}
            </tbody>
          </Table>
        )}
        <Box sx={{ display: "flex", gap: 1.5, mt: 1.5, alignItems: "center" }}>
          <Button
            color="inherit"
            disabled={start === 0}
            onClick={() => set({ start: String(Math.max(start - TAKE, 0)) })}
          >
            Before
          </Button>
          <span>
            {count(Math.min(start + 1, data.total))} to {count(Math.min(start + TAKE, data.total))} of{" "}
            {count(data.total)}
          </span>
          <Button
            color="inherit"
            disabled={start + TAKE >= data.total}
            onClick={() => set({ start: String(start + TAKE) })}
          >
            After
          </Button>
          <Box sx={{ flex: 1 }} />
          <Button variant="outlined" color="inherit" href={`/api/items.csv?${filtered}`} download>
            Export as CSV
          </Button>
          <Button variant="outlined" color="inherit" href={`/api/items.xlsx?${filtered}`} download>
            Export as XLSX
          </Button>
        </Box>
      </Section>
      <BringIn />
    </PageTitle>
  );
}

function Select({
  label,
  value,
  set,
  choices,
}: {
  label: string;
  value: string;
  set: (value: string) => void;
  choices: Record<string, string>;
}) {
  return (
    <TextField
      select
      label={label}
      value={value in choices ? value : ""}
      onChange={(event) => set(event.target.value)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      sx={{ width: 150 }}
    >
      {Object.entries(choices).map(([key, words]) => (
        <MenuItem key={key} value={key}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}

const CONDITIONS = ["mint", "NM", "LP", "MP", "HP", "damaged"] as const;

function Row({ item }: { item: Item }) {
  const correct = useCorrection(item);
  const name = item.name;
  return (
    <tr data-row>
      <td>
        <Link data-cell to={`/stock/${item.number}`}>
          {name}
        </Link>
        <Box component="span" sx={{ color: "text.secondary" }}>
          {item.card && ` no. ${item.card}`}
          {item.serial && `, ${item.serial}`}
          {item.note && `, ${item.note}`}
        </Box>
      </td>
      <td className="figure">{count(item.count)}</td>
      <td>{item.state.replace("_", " ")}</td>
      <td>
        <EditableCell
          value={item.condition ?? ""}
          shown={item.condition ?? "not said"}
          label={`Condition of ${name}`}
          align="left"
          width={80}
          save={(text) => {
            const wanted = CONDITIONS.find(
              (condition) => condition.toLowerCase() === text.trim().toLowerCase(),
            );
            if (!wanted && text.trim()) return Promise.reject(new Error(`one of ${CONDITIONS.join(", ")}`));
            return correct.mutateAsync({ condition: wanted ?? null });
          }}
        />
      </td>
      <td>
        <EditableCell
          value={item.place ?? ""}
          shown={item.place ?? "not said"}
          label={`Place of ${name}`}
          align="left"
          width={120}
          save={(text) => correct.mutateAsync({ place: text.trim() || null })}
        />
      </td>
      <td className="figure">{money(item.basis)}</td>
      <td className="figure">{money(item.value)}</td>
      <td>{item.acquired_on ? day(item.acquired_on) : ""}</td>
      <td>
        <Button
          color="inherit"
          data-cell
          aria-label={`${item.never_for_sale ? "never" : "yes"}: ${name} for sale`}
          onClick={() => correct.mutate({ never_for_sale: !item.never_for_sale })}
          sx={{ minWidth: 0, p: 0.5, fontWeight: item.never_for_sale ? 700 : 400 }}
        >
          {item.never_for_sale ? "never" : "yes"}
        </Button>
      </td>
    </tr>
  );
}

function SavedFilters({
  params,
  setParams,
}: {
  params: URLSearchParams;
  setParams: (fresh: URLSearchParams, options: { replace: boolean }) => void;
}) {
  const filters = useQuery({
    queryKey: ["item-filters"],
    queryFn: () => take(client.GET("/api/item-filters")),
  });
  const [name, setName] = useState("");
  const save = useAct(
    () => take(client.PUT("/api/item-filters", { body: { name, query: Object.fromEntries(params) } })),
    { keys: ["item-filters"], text: "Filter kept.", done: () => setName("") },
  );
  return (
    <>
      {(filters.data?.filters.length ?? 0) > 0 && (
        <TextField
          select
          label="Kept filters"
          value=""
          onChange={(event) => {
            const found = filters.data?.filters.find((item) => item.name === event.target.value);
            if (found)
              setParams(new URLSearchParams(found.query as Record<string, string>), { replace: true });
          }}
          sx={{ width: 150 }}
        >
          {filters.data?.filters.map((item) => (
            <MenuItem key={item.name} value={item.name}>
              {item.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      <TextField
        label="Keep this filter as"
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && name.trim() && save.mutate(undefined)}
        sx={{ width: 170 }}
      />
    </>
  );
}

function BringIn() {
  const file = useRef<HTMLInputElement>(null);
  const bring = useAct(
    (chosen: File) => {
      const form = new FormData();
      form.set("file", chosen);
      return take(
        client.POST("/api/items", { body: form as never, bodySerializer: (body) => body as never }),
      );
    },
    { keys: ["items", "books"], text: (done) => `${count(done.rows)} rows brought in.`, quiet: true },
  );
  const faults = bring.error instanceof ProblemError ? (bring.error.problem.faults ?? []) : [];
  return (
    <Section title="Bring in what was there before" point="CSV or XLSX; all rows or none">
      <Box sx={{ display: "flex", gap: 2, mt: 1, alignItems: "center" }}>
        <Button
          variant="outlined"
          color="inherit"
          onClick={() => file.current?.click()}
          disabled={bring.isPending}
          sx={{ flexShrink: 0 }}
        >
          {bring.isPending ? "Bringing it in …" : "Choose a file"}
        </Button>
        <input
          ref={file}
          type="file"
          accept=".csv,.xlsx"
          aria-label="List of items"
          hidden
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (chosen) bring.mutate(chosen);
            event.target.value = "";
          }}
        />
        <Box component="span" sx={{ fontSize: 13, color: "text.secondary" }}>
          Columns: name, and if you like release, line, number, count, condition, serial, place, basis, value,
          acquired_on, never_for_sale, note. An empty basis is unknown, never 0.
        </Box>
      </Box>
      {bring.isError && (
        <Box role="alert" sx={{ color: "error.main", mt: 1.5 }}>
          {faults.length === 0 && inWords(bring.error)}
          {faults.slice(0, 20).map((fault) => (
            <Box key={`${fault.row} ${fault.field}`}>
              {fault.row !== null && `row ${fault.row}, `}
              {fault.field}: {fault.message}
            </Box>
          ))}
        </Box>
      )}
      <ByHand />
      <Aside>Mould and dust in old binders: wear a mask.</Aside>
    </Section>
  );
}

const EMPTY = { name: "", count: "1", basis: "", value: "", place: "" };

/** A thing that was there before, typed in. */
function ByHand() {
  const [typed, setTyped] = useState(EMPTY);
  const add = useAct(
    () =>
      take(
        client.POST("/api/items/one", {
          body: {
            name: typed.name.trim(),
            count: Number(typed.count),
            basis: typed.basis.trim() || null,
            value: typed.value.trim() || null,
            place: typed.place.trim() || null,
          },
        }),
      ),
    { keys: ["items", "books"], text: "Brought in.", done: () => setTyped(EMPTY), quiet: true },
  );
  const field = (name: keyof typeof EMPTY, label: string, width: number) => (
    <TextField
      label={label}
      value={typed[name]}
      onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
      error={faultAt(add.error, name) !== undefined}
      helperText={faultAt(add.error, name)}
      sx={{ width }}
    />
  );
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 2, alignItems: "flex-start" }}>
        {field("name", "Or by hand: what", 300)}
        {field("count", "How many", 100)}
        {field("basis", "Cost of all", 120)}
        {field("value", "Worth, about", 120)}
        {field("place", "Where it is", 130)}
        <Button
          variant="outlined"
          color="inherit"
          disabled={!typed.name.trim() || add.isPending}
          onClick={() => add.mutate(undefined)}
        >
          Bring it in
        </Button>
      </Box>
      {add.isError && (
        <Box role="alert" sx={{ color: "error.main", mt: 1 }}>
          {inWords(add.error)}
        </Box>
      )}
    </>
  );
}
