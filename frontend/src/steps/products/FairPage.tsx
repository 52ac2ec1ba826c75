import Button from "@mui/material/Button";
import { useSearchParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { day, money, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { useToday } from "../../shared/useToday";
import { useShelf } from "./queries";
import { listFormats } from "./shelf";

/** The most to pay for each format, on one page to be printed and taken along. */
export default function FairPage() {
  const shelf = useShelf();
  const today = useToday();
  const [params] = useSearchParams();
  if (!shelf.data) return <Answer of={shelf} />;
  const rows = listFormats(shelf.data.releases, { find: params.get("find") ?? "", show: "", sort: "" });
  const currency = rows[0]?.release.currency ?? "";
  return (
    <PageTitle
      title="The most to pay"
      plain={`The most to pay, ${day(today)}`}
      crumbs={[{ name: "Products", to: "/products" }, { name: "The most to pay" }]}
    >
      <Button className="no-print" variant="contained" onClick={() => window.print()} sx={{ mb: 2 }}>
        Print it
      </Button>
      <Table label="The most to pay">
        <Heads
          of={[
            "Box",
            "what is in it",
            { figure: `price, ${currency}` },
            { figure: "most to pay" },
            { figure: "a pack" },
            { figure: "loses at today’s price" },
            "asked there",
          ]}
        />
        <tbody>
          {rows.map(({ release, format }) => (
            <tr key={`${release.id} ${format.id}`} data-row>
              <td>
                <span data-cell>
                  {release.title}, {format.name}
                </span>
              </td>
              <td>{format.contents}</td>
              <td className="figure">{money(format.price)}</td>
              <td className="figure">
                <b>
                  {format.figures ? (format.figures.lower_bound ? "≥ " : "") : ""}
                  {format.figures ? money(Math.max(format.figures.most.sticker, 0)) : "not known"}
                </b>
              </td>
              <td className="figure">
                {format.figures ? money(Math.max(format.figures.most.sticker, 0) / format.packs_per_box) : ""}
              </td>
              <td className="figure">
                {format.figures?.loss === null || !format.figures ? "no price" : percent(format.figures.loss)}
              </td>
              <td style={{ minWidth: 90, borderBottom: "1px dotted" }} />
            </tr>
          ))}
        </tbody>
      </Table>
      <Aside>
        By your own rule and costs, at the prices of cards that Tobbix knows. Estimates, not advice: opening
        product usually loses money. Look at seals and packs before you pay.
      </Aside>
    </PageTitle>
  );
}
