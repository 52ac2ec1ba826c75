import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { DataGrid, type GridColDef, type GridSortModel } from "@mui/x-data-grid";
import { faultOf, type Schemas } from "../../shared/api/client";
import { count, day, money } from "../../shared/format";
import { styleNonce } from "../../shared/nonce";
import { useNotice } from "../../shared/notices";
import { useArrowKeys } from "../../shared/useArrowKeys";
import { useCards, type CardsAsked, type Corrections } from "./queries";

interface Props {
  release: Schemas["ReleaseOut"];
  lines: Schemas["LineOut"][];
  corrections: Corrections;
}

/** The cards of a line with their prices: found, sorted and paged by the server, priced in place. */
export default function Checklist({ release, lines, corrections }: Props) {
  const [line, setLine] = useState(lines[0]?.id ?? "");
  const arrows = useArrowKeys();
  const chosen = lines.find((item) => item.id === line) ?? lines[0];
  if (!chosen) return null;
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "200px minmax(0, 1fr)" },
        gap: 3,
      }}
    >
      <Box role="tablist" aria-label="Lines" aria-orientation="vertical" onKeyDown={arrows}>
        {lines.map((item) => (
          <Box key={item.id} data-row>
            <ButtonBase
              data-cell
              role="tab"
              aria-selected={item.id === chosen.id}
              onClick={() => setLine(item.id)}
              sx={{
                font: "inherit",
                width: "100%",
                justifyContent: "space-between",
                py: 0.5,
                pl: 1,
                borderLeft: 3,
                borderColor: item.id === chosen.id ? "tone.marker" : "transparent",
                fontWeight: item.id === chosen.id ? 700 : 400,
              }}
            >
              {item.name}
              <Box component="span" sx={{ color: "text.secondary", fontWeight: 400, fontSize: 13 }}>
                {count(item.cards)}
                {item.unpriced > 0 && `, ${item.unpriced} ?`}
              </Box>
            </ButtonBase>
          </Box>
        ))}
      </Box>
      <Cards key={chosen.id} release={release} line={chosen} corrections={corrections} />
    </Box>
  );
}

/** Where a price comes from; what was typed is pinned until it is released. */
const SOURCES: Record<NonNullable<Schemas["CardOut"]["source"]>, string> = {
  owner: "typed",
  comps: "sales",
  sheet: "sheet",
  borrowed: "borrowed",
  book: "a book",
  line: "its line",
};

const COLUMNS = (currency: string, follows: boolean): GridColDef<Schemas["CardOut"]>[] => [
  { field: "number", headerName: "No.", width: 90 },
  { field: "subject", headerName: "Subject", flex: 1, minWidth: 160 },
  { field: "weight", headerName: "printed", width: 90, align: "right", headerAlign: "right" },
  {
    field: "price",
    headerName: `price, ${currency}`,
    width: 180,
    align: "right",
    headerAlign: "right",
    editable: true,
    valueGetter: (value: string | null, card) => (follows && !card.own ? "follows" : (value ?? "")),
    renderCell: ({ row }) => (follows && !row.own ? `${money(row.price)} follows` : money(row.price)),
  },
  {
    field: "day",
    headerName: "said",
    width: 170,
    sortable: false,
    renderCell: ({ row }) => (row.day && row.source ? `${SOURCES[row.source]}, ${day(row.day)}` : ""),
  },
];

function Cards({
  release,
  line,
  corrections,
}: {
  release: Schemas["ReleaseOut"];
  line: Schemas["LineOut"];
  corrections: Corrections;
}) {
  const [asked, setAsked] = useState<CardsAsked>({
    find: "",
    sort: "checklist",
    descending: false,
    start: 0,
    count: 25,
  });
  const cards = useCards(release.id, line.id, asked);
  const say = useNotice();
  const sort = (model: GridSortModel) => {
    const by = model[0];
    setAsked({
      ...asked,
      sort: (by?.field ?? "checklist") as CardsAsked["sort"],
      descending: by?.sort === "desc",
      start: 0,
    });
  };
  const follows = line.cards_of !== null;
  return (
    <Box>
      <Box
        sx={{ display: "flex", gap: 2, alignItems: "center", mb: 1, fontSize: 13, color: "text.secondary" }}
      >
        <TextField
          label="Find a number or subject"
          value={asked.find}
          onChange={(event) => setAsked({ ...asked, find: event.target.value.slice(0, 200), start: 0 })}
        />
        <span>
          {follows
            ? `Prices follow ${line.cards_of}, times ${line.price_multiple ?? "unknown"}${line.price_floor ? `, at least ${money(line.price_floor)}` : ""}, unless you give one.`
            : "Enter edits a price; empty is unknown. What is typed stays until you type release."}
        </span>
      </Box>
      <DataGrid
        nonce={styleNonce()}
        aria-label={`Cards of ${line.name}`}
        density="compact"
        autoHeight
        rows={cards.data?.cards ?? []}
        rowCount={cards.data?.total ?? 0}
        columns={COLUMNS(release.currency, follows)}
        getRowId={(card) => card.number}
        loading={cards.isFetching}
        paginationMode="server"
        sortingMode="server"
        disableColumnFilter
        disableColumnMenu
        disableRowSelectionOnClick
        pageSizeOptions={[25, 50, 100]}
        paginationModel={{ page: Math.floor(asked.start / asked.count), pageSize: asked.count }}
        onPaginationModelChange={({ page, pageSize }) =>
          setAsked({ ...asked, start: page * pageSize, count: pageSize })
        }
        onSortModelChange={sort}
        processRowUpdate={async (fresh, old) => {
          const typed = String(fresh.price ?? "").trim();
          if (typed === (follows && !old.own ? "follows" : (old.price ?? ""))) return old;
          await corrections.priceCard(line.id, old.number, typed);
          const amount = typed === "" || typed === "follows" || typed === "unknown" ? null : typed;
          return { ...old, price: amount, own: typed !== "follows" };
        }}
        onProcessRowUpdateError={(error) => say({ text: faultOf(error), isError: true })}
        localeText={{ noRowsLabel: asked.find ? "No card like that" : "No cards are listed" }}
        sx={{
          border: 0,
          borderRadius: 0,
          "--DataGrid-rowBorderColor": "var(--mui-palette-divider)",
          "& .MuiDataGrid-columnHeaderTitle": { fontSize: 12, fontWeight: 400, color: "text.secondary" },
          "& .MuiDataGrid-cell:focus, & .MuiDataGrid-columnHeader:focus": {
            outline: "2px solid",
            outlineColor: "var(--mui-palette-tone-ink)",
            outlineOffset: -2,
          },
        }}
      />
    </Box>
  );
}
