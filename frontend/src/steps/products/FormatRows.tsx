import Box from "@mui/material/Box";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { money, percent } from "../../shared/format";
import { Table } from "../../shared/Table";
import { ValueStrip } from "./ValueStrip";

interface Props {
  release: Schemas["ReleaseOut"];
  savePrice?: (format: string, price: string) => Promise<unknown>;
  saveUsable?: (format: string, usable: string) => Promise<unknown>;
}

/** The formats of a release: what one box of each is worth, against its price. */
export function FormatRows({ release, savePrice, saveUsable }: Props) {
  return (
    <Table label={`Formats of ${release.title}`}>
      <thead>
        <tr>
          <th scope="col" style={{ width: "30%" }}>
            Format
          </th>
          <th scope="col" className="figure" style={{ width: "9%" }}>
            price, {release.currency}
          </th>
          <th scope="col">from bad to good, ▾ price</th>
          <th scope="col" className="figure" style={{ width: "9%" }}>
            middle
          </th>
          <th scope="col" className="figure" style={{ width: "9%" }}>
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
        {release.formats.map((format) => (
          <FormatRow
            key={format.id}
            release={release.id}
            format={format}
            savePrice={savePrice}
            saveUsable={saveUsable}
          />
        ))}
      </tbody>
    </Table>
  );
}

function FormatRow({
  release,
  format,
  savePrice,
  saveUsable,
}: {
  release: string;
  format: Schemas["FormatOut"];
  savePrice: Props["savePrice"];
  saveUsable: Props["saveUsable"];
}) {
  const figures = format.figures;
  const bound = figures?.lower_bound ? "≥ " : "";
  return (
    <tr data-row>
      <td>
        <Link data-cell to={`/products/${release}/${format.id}`}>
          {format.name}
        </Link>
        <Box component="span" sx={{ color: "text.secondary" }}>
          , {format.contents}
          {saveUsable ? (
            <>
              ,{" "}
              <EditableCell
                value={String(format.usable)}
                shown={`${percent(format.usable)} usable`}
                label={`Packs of the ${format.name} that can be opened`}
                save={(text) => saveUsable(format.id, text)}
              />
            </>
          ) : (
            format.usable < 1 && `, ${percent(format.usable)} usable`
          )}
        </Box>
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
            <LossWord loss={figures.loss} meetsRule={figures.meets_rule} />
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

/** A chance of a loss: in the colour of gain only where the owner's rule holds, and always with its word. */
export function LossWord({ loss, meetsRule }: { loss: number | null; meetsRule: boolean }) {
  if (loss === null)
    return (
      <Box component="span" sx={{ color: "text.secondary" }}>
        no price
      </Box>
    );
  return (
    <Box component="span" sx={{ fontWeight: 600, color: meetsRule ? "tone.gainText" : "tone.lossText" }}>
      {percent(loss)}, {meetsRule ? "within rule" : "too dear"}
    </Box>
  );
}
