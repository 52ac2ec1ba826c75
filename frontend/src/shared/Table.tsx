import Box from "@mui/material/Box";
import { useEffect, type ReactNode } from "react";
import { useArrowKeys } from "./useArrowKeys";

/** Name each cell by its column, for a phone, where a row is shown as a card; an empty cell is left out there. */
function nameCells(table: HTMLTableElement): void {
  const heads = [...table.querySelectorAll<HTMLElement>("thead tr:last-of-type > *")].map((head) =>
    head.hasAttribute("aria-label") ? "" : (head.textContent ?? "").replace(/[↑↓]/g, "").trim(),
  );
  for (const row of table.querySelectorAll<HTMLTableRowElement>("tbody tr")) {
    [...row.cells].forEach((cell, column) => {
      const name = heads[column] ?? "";
      if (cell.dataset.name !== name) cell.dataset.name = name;
    });
  }
}

type Heading = ReactNode | { figure: ReactNode } | { hidden: string };

function isMarked(heading: Heading): heading is { figure: ReactNode } | { hidden: string } {
  return typeof heading === "object" && heading !== null && ("figure" in heading || "hidden" in heading);
}

/** The heads of a table: words, figures at the right, or of a column without words what it is for. */
export function Heads({ of }: { of: readonly Heading[] }) {
  return (
    <thead>
      <tr>
        {of.map((heading, at) =>
          isMarked(heading) && "hidden" in heading ? (
            <th key={at} scope="col" aria-label={heading.hidden} />
          ) : isMarked(heading) ? (
            <th key={at} scope="col" className="figure">
              {heading.figure}
            </th>
          ) : (
            <th key={at} scope="col">
              {heading}
            </th>
          ),
        )}
      </tr>
    </thead>
  );
}

/** A table without boxes: hairlines, small heads, figures at the right and days in one line (by `className`). Arrows
 * move in it; it is one stop for Tab. */
export function Table({ label, children }: { label: string; children: ReactNode }) {
  const keys = useArrowKeys<HTMLTableElement>();
  const table = keys.ref;
  useEffect(() => {
    if (table.current) nameCells(table.current);
  });
  return (
    <Box sx={{ overflowX: { xs: "visible", sm: "auto" } }}>
      <Box
        component="table"
        aria-label={label}
        {...keys}
        sx={{
          width: "100%",
          position: "relative",
          borderCollapse: "collapse",
          "& td .MuiButton-root": { py: 0, minHeight: 22, lineHeight: 1.5 }, // what is pressed adds no height to a row
          "& th": {
            fontSize: 12,
            fontWeight: 400,
            color: "text.secondary",
            textAlign: "left",
            pb: 0.75,
            pr: 2,
            whiteSpace: "nowrap",
          },
          "& td": { borderTop: 1, borderColor: "divider", py: 0.55, pr: 2, verticalAlign: "middle" },
          "& tr:last-of-type td": { borderBottom: 1, borderColor: "divider" },
          "& .figure": { textAlign: "right", whiteSpace: "nowrap" },
          "& .day": { whiteSpace: "nowrap" },
          "& td:last-child, & th:last-child": { pr: 0 },
          "@media (max-width: 599.95px)": {
            "&, & tbody": { display: "block" },
            "& thead": {
              position: "absolute",
              width: "1px",
              height: "1px",
              overflow: "hidden",
              clipPath: "inset(50%)",
            },
            "& tbody tr": {
              display: "flex",
              flexWrap: "wrap",
              columnGap: 2,
              rowGap: 0.25,
              py: 0.75,
              borderTop: 1,
              borderColor: "divider",
            },
            "& tbody td, & tr:last-of-type td": {
              border: 0,
              p: 0,
              textAlign: "left",
              whiteSpace: "normal",
              maxWidth: "100%",
              "& *": { whiteSpace: "normal", maxWidth: "100%" },
            },
            "& td.figure, & td.day": { textAlign: "left", whiteSpace: "normal" },
            "& tbody td:empty": { display: "none" },
            "& tbody td:first-of-type:not(:has(input))": { width: 1 },
            "& tbody td:not(:first-of-type)[data-name]:not([data-name=''])::before": {
              content: "attr(data-name) ' '",
              color: "text.secondary",
              fontSize: 12,
            },
            "& a, & button": { minHeight: 32, display: "inline-flex", alignItems: "center" },
          },
        }}
      >
        {children}
      </Box>
    </Box>
  );
}
