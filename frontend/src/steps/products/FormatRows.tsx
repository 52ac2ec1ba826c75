import Box from "@mui/material/Box";
import { Link } from "react-router";
import { EditableCell } from "../../shared/EditableCell";
import { money, percent } from "../../shared/format";
import { Table } from "../../shared/Table";
import type { ShelfRow } from "./shelf";
import { ValueStrip } from "./ValueStrip";

interface Props {
  rows: readonly ShelfRow[];
  label: string;
  /** Say of which release each is: the rows are of several. */
  named?: boolean;
  savePrice?: (format: string, price: string) => Promise<unknown>;
  saveCase?: (format: string, price: string) => Promise<unknown>;
  saveUsable?: (format: string, usable: string) => Promise<unknown>;
}

/** Formats: what one box of each is worth, against its price. */
export function FormatRows({ rows, label, ...more }: Props) {
  return (
    <Table label={label}>
      <thead>
        <tr>
          <th scope="col" style={{ width: "30%" }}>
            Format
          </th>
          <th scope="col" className="figure" style={{ width: "9%" }}>
            price, {rows[0]?.release.currency}
          </th>
          <th scope="col">from bad to good, ▾ price</th>
          <th scope="col" className="figure" style={{ width: "9%" }} title="half of all boxes hold less">
            middle
          </th>
          <th scope="col" className="figure" style={{ width: "9%" }} title="what many boxes hold, each">
            average
          </th>
          <th scope="col" className="figure" style={{ width: "14%" }}>
            chance of a loss
          </th>
          <th scope="col" className="figure" style={{ width: "9%" }}>
            most to pay
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <FormatRow key={`${row.release.id} ${row.format.id}`} row={row} {...more} />
        ))}
      </tbody>
    </Table>
  );
}

function FormatRow({
  row,
  named,
  savePrice,
  saveCase,
  saveUsable,
}: Omit<Props, "rows" | "label"> & { row: ShelfRow }) {
  const { format } = row;
  const release = row.release.id;
  const figures = format.figures;
  const bound = figures?.lower_bound ? "≥ " : "";
  return (
    <tr data-row>
      <td>
        <Link data-cell to={`/products/${release}/${format.id}`}>
          {named ? `${row.release.title}, ${format.name}` : format.name}
        </Link>
        <Box component="span" sx={{ color: "text.secondary" }}>
          , {format.contents}
          {!saveUsable && format.usable < 1 && `, ${percent(format.usable)} usable`}
          {!saveCase && format.case_price !== null && `, case at ${money(format.case_price)}`}
        </Box>
        <Guesses guesses={figures?.guesses ?? []} to={`/products/${release}/${format.id}#guesses`} />
        {saveUsable && saveCase && (
          <Box
            sx={{
              display: "flex",
              flexWrap: "wrap",
              alignItems: "center",
              columnGap: 1,
              rowGap: 0.25,
              mt: 0.5,
              color: "text.secondary",
              "& .MuiButton-root.MuiButton-root": { minHeight: 24 },
            }}
          >
            <EditableCell
              value={String(format.usable)}
              shown={`${percent(format.usable)} usable`}
              label={`Packs of the ${format.name} that can be opened`}
              save={(text) => saveUsable(format.id, text)}
            />
            {format.boxes_per_case !== null && format.boxes_per_case > 1 && (
              <span>
                case{" "}
                <EditableCell
                  value={format.case_price ?? ""}
                  shown={format.case_price === null ? "not said" : money(format.case_price)}
                  label={`Price of a case of the ${format.name}`}
                  save={(text) => saveCase(format.id, text)}
                />
              </span>
            )}
          </Box>
        )}
      </td>
      <td className="figure">
        {savePrice ? (
          <EditableCell
            value={format.price ?? ""}
            label={`Price of the ${format.name}`}
            save={(text) => savePrice(format.id, text)}
          />
        ) : (
          money(format.price)
        )}
      </td>
      {figures ? (
        <>
          <td>
            <ValueStrip format={format} />
          </td>
          <td className="figure">
            {bound}
            {money(figures.quantiles["0.5"])}
          </td>
          <td className="figure">
            {bound}
            {money(figures.mean)}
          </td>
          <td className="figure">
            <LossWord loss={figures.loss} meetsRule={figures.meets_rule} most={figures.lower_bound} />
          </td>
          <td className="figure">{money(figures.most.sticker)}</td>
        </>
      ) : (
        <td colSpan={5} style={{ color: "var(--mui-palette-tone-lossText)" }}>
          {format.refused}
        </td>
      )}
    </tr>
  );
}

/** What counts that nobody knows, with the way to where it can be taken back. */
export function Guesses({ guesses, to }: { guesses: readonly string[]; to: string }) {
  if (guesses.length === 0) return null;
  return (
    <Box component="span" sx={{ display: "block", fontSize: 12 }}>
      <Link to={to} title={guesses.join("; ")}>
        {guesses.length === 1 ? "a guess" : `${guesses.length} guesses`}
      </Link>
      <Box component="span" sx={{ color: "text.secondary" }}>
        : {guesses.slice(0, 2).join("; ")}
        {guesses.length > 2 && " …"}
      </Box>
    </Box>
  );
}

/** A chance of a loss: in the colour of gain only where the owner's rule holds, and always with its word. */
export function LossWord({
  loss,
  meetsRule,
  most = false,
}: {
  loss: number | null;
  meetsRule: boolean;
  /** That often at most: something is unknown. */
  most?: boolean;
}) {
  if (loss === null)
    return (
      <Box component="span" sx={{ color: "text.secondary" }}>
        no price
      </Box>
    );
  return (
    <Box component="span" sx={{ fontWeight: 600, color: meetsRule ? "tone.gainText" : "tone.lossText" }}>
      {most && "≤ "}
      {percent(loss)}, {meetsRule ? "within rule" : "too dear"}
    </Box>
  );
}
