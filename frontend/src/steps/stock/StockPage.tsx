import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { client, take, type Schemas } from "../../shared/api/client";
import { CONDITIONS } from "../../shared/ConditionChoice";
import { EditableCell } from "../../shared/EditableCell";
import { count, day, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Table } from "../../shared/Table";
import { useAddress } from "../../shared/useAddress";
import { ValueField } from "../../shared/ValueField";
import { BringIn } from "./BringIn";
import { useCorrection } from "./correcting";
import { SavedFilters } from "./SavedFilters";
import { Answer } from "../../shared/Answer";

type Item = Schemas["ItemOut"];
const TAKE = 50;
const NAMES = [
  "find",
  "kind",
  "state",
  "basis",
  "identity",
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
  const filter = Object.fromEntries(
    Object.entries(query).filter(([name]) => !["sort", "descending", "start"].includes(name)),
  );
  const summed = useQuery({
    queryKey: ["items", "sums", filter],
    queryFn: () => take(client.GET("/api/items/sums", { params: { query: filter as never } })),
    placeholderData: keepPreviousData,
  });
  const sums = summed.data;
  const isOld = items.isPlaceholderData || summed.isPlaceholderData; // another filter is still on its way
  const set = (change: Record<string, string>) => setAddress({ start: null, ...change });
  if (!items.data) return <Answer of={items} />;
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
    <PageTitle title="Stock" verdict={sums?.verdict} plain="Everything owned." crumbs={[{ name: "Stock" }]}>
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 1.5, rowGap: 1, mb: 1 }}>
        <ValueField
          label="Find"
          value={params.get("find") ?? ""}
          commit={(find) => set({ find })}
          width={200}
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
            away: "away for a service",
            opened: "opened",
            sold: "sold",
            traded: "traded",
            returned: "sent back",
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
        <Select
          label="Which card it is"
          value={params.get("identity") ?? ""}
          set={(identity) => set({ identity })}
          choices={{ "": "all", known: "known", unknown: "not known" }}
        />
        <SavedFilters params={params} setParams={setParams} />
      </Box>
      <Section title={sums && !isOld ? rows(sums.total) : "Rows"}>
        {data.items.length === 0 ? (
          <Box sx={{ py: 1, color: "text.secondary" }}>
            Nothing like that. What you buy and open comes here; bring in below what was there before.
          </Box>
        ) : (
          <Table label="Items">
            <thead>
              <tr>
                <th scope="col">{head("name", "what")}</th>
                <th scope="col" className="figure">
                  {head("count", "count")}
                </th>
                <th scope="col">state</th>
                <th scope="col">condition</th>
                <th scope="col">{head("place", "place")}</th>
                <th scope="col" className="figure">
                  {head("basis", "cost")}
                </th>
                <th scope="col" className="figure">
                  {head("value", "about worth")}
                </th>
                <th scope="col">{head("acquired_on", "since")}</th>
                <th scope="col">for sale</th>
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
            {count(data.items.length && start + 1)} to {count(start + data.items.length)}
            {sums && ` of ${count(sums.total)}`}
          </span>
          <Button color="inherit" disabled={!data.more} onClick={() => set({ start: String(start + TAKE) })}>
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

function rows(total: number): string {
  return total === 1 ? "1 row" : `${count(total)} rows`;
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
      sx={{ width: 132 }}
    >
      {Object.entries(choices).map(([key, words]) => (
        <MenuItem key={key} value={key}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}

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
