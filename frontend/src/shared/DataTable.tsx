import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import type { ReactNode } from "react";
import { EditableCell } from "./EditableCell";
import { count } from "./format";
import { Table } from "./Table";

export interface Column<R> {
  key: string;
  name: string;
  /** Figures stand at the right; days stay in one line. */
  kind?: "words" | "figure" | "day";
  /** By what the server sorts it, if it does. */
  sort?: string;
  cell: (row: R) => ReactNode;
  /** What is copied; the words of a cell that is edited are copied as they are shown. */
  text?: (row: R) => string;
  edit?: {
    label: (row: R) => string;
    value: (row: R) => string;
    shown: (row: R) => string;
    width?: number;
    save: (row: R, text: string) => Promise<unknown>;
  };
}

export interface Sorting {
  by: string;
  descending: boolean;
  set: (by: string, descending: boolean) => void;
}

export interface Paging {
  start: number;
  take: number;
  /** How many there are in all, if that is known by now. */
  total: number | undefined;
  more: boolean;
  set: (start: number) => void;
}

export interface Selection<K> {
  keys: ReadonlySet<K>;
  set: (keys: ReadonlySet<K>) => void;
  name: (key: K) => string;
}

interface Props<R, K extends string | number> {
  label: string;
  rows: readonly R[];
  columns: readonly Column<R>[];
  keyOf: (row: R) => K;
  sorting?: Sorting;
  paging?: Paging;
  selection?: Selection<K>;
  /** What is said where there are no rows. */
  empty: ReactNode;
  /** Beside the pages, at the foot. */
  foot?: ReactNode;
}

/** The rows as text: columns between tabs, for a sheet. */
export function asText<R>(rows: readonly R[], columns: readonly Column<R>[]): string {
  const cell = (row: R, column: Column<R>) => {
    const found = column.text?.(row) ?? column.edit?.shown(row) ?? column.cell(row);
    return typeof found === "string" || typeof found === "number" ? String(found) : "";
  };
  const lines = [
    columns.map((column) => column.name),
    ...rows.map((row) => columns.map((c) => cell(row, c))),
  ];
  return lines.map((line) => line.map((text) => text.replaceAll(/[\t\n]/g, " ")).join("\t")).join("\n");
}

/**
 * A table of rows with typed columns: sorted, paged and edited where they stand, many chosen at once, copied as text. What
 * is asked (order, page) is the page's, so that it can stand in the address.
 */
export function DataTable<R, K extends string | number>(props: Props<R, K>) {
  const { label, rows, columns, keyOf, sorting, paging, selection } = props;
  if (rows.length === 0 && !paging?.start)
    return <Box sx={{ py: 1, color: "text.secondary" }}>{props.empty}</Box>;
  const all = rows.length > 0 && rows.every((row) => selection?.keys.has(keyOf(row)));
  const choose = (keys: readonly K[], on: boolean) => {
    if (!selection) return;
    const fresh = new Set(selection.keys);
    for (const key of keys) {
      if (on) fresh.add(key);
      else fresh.delete(key);
    }
    selection.set(fresh);
  };
  return (
    <>
      <Table label={label}>
        <thead>
          <tr>
            {selection && (
              <th scope="col" aria-label="chosen">
                <Checkbox
                  size="small"
                  checked={all}
                  indeterminate={!all && rows.some((row) => selection.keys.has(keyOf(row)))}
                  onChange={(event) => choose(rows.map(keyOf), event.target.checked)}
                  slotProps={{ input: { "aria-label": "Choose all on this page" } }}
                  sx={{ p: 0, ml: "-2px" }}
                />
              </th>
            )}
            {columns.map((column) => (
              <Head key={column.key} column={column} sorting={sorting} />
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const key = keyOf(row);
            return (
              <tr key={key} aria-selected={selection?.keys.has(key)}>
                {selection && (
                  <td>
                    <Checkbox
                      size="small"
                      checked={selection.keys.has(key)}
                      onChange={(event) => choose([key], event.target.checked)}
                      slotProps={{ input: { "aria-label": `Choose ${selection.name(key)}` } }}
                      sx={{ p: 0, ml: "-2px", my: "-3px" }}
                    />
                  </td>
                )}
                {columns.map((column) => (
                  <td
                    key={column.key}
                    className={
                      column.kind === "figure" ? "figure" : column.kind === "day" ? "day" : undefined
                    }
                  >
                    {column.edit ? (
                      <EditableCell
                        value={column.edit.value(row)}
                        shown={column.edit.shown(row)}
                        label={column.edit.label(row)}
                        align={column.kind === "figure" ? "right" : "left"}
                        {...(column.edit.width ? { width: column.edit.width } : {})}
                        save={(text) => column.edit?.save(row, text) ?? Promise.resolve()}
                      />
                    ) : (
                      column.cell(row)
                    )}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </Table>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 1, alignItems: "center", fontSize: 13 }}>
        {paging && <Pages paging={paging} shown={rows.length} />}
        <Box sx={{ flex: 1 }} />
        <Button
          color="inherit"
          onClick={() => void navigator.clipboard.writeText(asText(rows, columns))}
          aria-label={`Copy as text: ${label}`}
        >
          Copy as text
        </Button>
        {props.foot}
      </Box>
    </>
  );
}

function Head<R>({ column, sorting }: { column: Column<R>; sorting: Sorting | undefined }) {
  const { sort } = column;
  const isBy = sort !== undefined && sorting?.by === sort;
  const figure = column.kind === "figure" ? { className: "figure" } : {};
  if (!sort || !sorting)
    return (
      <th scope="col" {...figure}>
        {column.name}
      </th>
    );
  return (
    <th
      scope="col"
      {...figure}
      aria-sort={isBy ? (sorting.descending ? "descending" : "ascending") : undefined}
    >
      <Button
        color="inherit"
        onClick={() => sorting.set(sort, isBy ? !sorting.descending : column.kind === "figure")}
        sx={{
          p: 0,
          minWidth: 24,
          minHeight: 24,
          justifyContent: column.kind === "figure" ? "flex-end" : "flex-start",
          fontSize: 12,
          fontWeight: isBy ? 700 : 400,
        }}
      >
        {column.name}
        {isBy && <span aria-hidden>{sorting.descending ? " ↓" : " ↑"}</span>}
      </Button>
    </th>
  );
}

function Pages({ paging, shown }: { paging: Paging; shown: number }) {
  const { start, take, total, more, set } = paging;
  return (
    <>
      <Button color="inherit" disabled={start === 0} onClick={() => set(Math.max(start - take, 0))}>
        Before
      </Button>
      <span>
        {count(shown && start + 1)} to {count(start + shown)}
        {total !== undefined && ` of ${count(total)}`}
      </span>
      <Button color="inherit" disabled={!more} onClick={() => set(start + take)}>
        After
      </Button>
    </>
  );
}
