import Box from "@mui/material/Box";
import { useParams } from "react-router";
import { faultOf, type Schemas } from "../../shared/api/client";
import { roughly } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside, Quiet } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { useAddress } from "../../shared/useAddress";
import { ValueField } from "../../shared/ValueField";
import { ReleaseTabs } from "./PlanTabs";
import { useProduction } from "./planning";
import { useRelease } from "./queries";
import { Answer } from "../../shared/Answer";

/** How many packs, boxes, cases and cards exist, told from numbered lines and their odds. */
export default function ProductionPage() {
  const { release = "" } = useParams();
  const [params, change] = useAddress();
  const detail = useRelease(release);
  const shares = params.get("shares") ?? "";
  const production = useProduction(release, shares);
  const plain = useProduction(release, "");
  if (!detail.data) return <Answer of={detail} />;
  const formats = detail.data.release.formats;
  const data = production.data ?? plain.data;
  const given = readShares(shares);
  const give = (format: string, text: string) => {
    const now = readShares(new URLSearchParams(window.location.search).get("shares") ?? ""); // two may be left at once
    now.set(format, text);
    change({
      shares: [...now]
        .filter(([, share]) => share)
        .map((pair) => pair.join(":"))
        .join(","),
    });
  };
  return (
    <PageTitle
      title={`How many exist, ${detail.data.release.title}`}
      verdict={data?.verdict}
      plain="How many exist"
      crumbs={[
        { name: "Products", to: "/products" },
        { name: detail.data.release.title, to: `/products/${release}` },
        { name: "How many exist" },
      ]}
    >
      <ReleaseTabs release={release} />
      {formats.length > 1 && (
        <Section
          title="Which share of all packs was made in each format?"
          point="a guess of your own, like 0.8; without it, only lines of one format tell"
        >
          <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap", mt: 1.5 }}>
            {formats.map((item, index) => (
              <ValueField
                key={item.id}
                label={item.name}
                value={given.get(item.id) ?? ""}
                commit={(text) => give(item.id, text)}
                fault={index === 0 && production.isError ? faultOf(production.error) : null}
                width={170}
              />
            ))}
          </Box>
        </Section>
      )}
      {data ? <Working data={data} /> : <Quiet />}
    </PageTitle>
  );
}

/** Shares as they stand in the address: "harbour:0.8,market:0.2". */
function readShares(text: string): Map<string, string> {
  return new Map(
    text
      .split(",")
      .filter(Boolean)
      .map((part) => part.split(":") as [string, string]),
  );
}

function Working({ data }: { data: Schemas["ProductionOut"] }) {
  const most = Math.max(1, ...data.estimates.map((item) => item.packs ?? 0));
  return (
    <Box sx={{ maxWidth: 1010 }}>
      <Section title="What each numbered line tells" point="packs made, in all formats that hold it">
        <Table label="Estimates by line">
          <thead>
            <tr>
              <th scope="col">Line</th>
              <th scope="col" className="figure">
                cards
              </th>
              <th scope="col" className="figure">
                copies in all
              </th>
              <th scope="col" className="figure">
                packs made
              </th>
              <th scope="col" style={{ width: "34%" }} />
            </tr>
          </thead>
          <tbody>
            {data.estimates.map((item) => (
              <tr key={item.line} data-row>
                <td>
                  <span data-cell>
                    {item.name} /{item.print_run}
                  </span>
                </td>
                <td className="figure">{item.cards}</td>
                <td className="figure">{roughly(item.cards * item.print_run)}</td>
                <td className="figure">{item.packs === null ? "not identified" : roughly(item.packs)}</td>
                <td>
                  {item.packs === null ? (
                    <Box component="span" sx={{ color: "text.secondary", fontSize: 12 }}>
                      {item.why}
                    </Box>
                  ) : (
                    <Box sx={{ height: 10, width: `${(item.packs / most) * 100}%`, bgcolor: "tone.gain" }} />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
        {data.estimates.length === 0 && "No line of this release is numbered."}
      </Section>
      <Section
        title="Made of each format"
        point="the middle of the estimates, from the lowest to the highest"
      >
        <Table label="Made of each format">
          <Heads
            of={[
              "Format",
              { figure: "lines that tell" },
              { figure: "packs" },
              { figure: "from" },
              { figure: "to" },
              { figure: "boxes" },
              { figure: "cases" },
            ]}
          />
          <tbody>
            {data.formats.map((item) => (
              <tr key={item.format} data-row>
                <td>{item.name}</td>
                <td className="figure">{item.estimates}</td>
                <td className="figure">{roughly(item.packs)}</td>
                <td className="figure">{roughly(item.low)}</td>
                <td className="figure">{roughly(item.high)}</td>
                <td className="figure">{roughly(item.boxes)}</td>
                <td className="figure">
                  {item.packs !== null && item.cases === null ? "no cases" : roughly(item.cases)}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Section>
      <Section title="Copies of each card that is not numbered" point="about; of the short prints beside it">
        <Table label="Copies of unnumbered cards">
          <Heads
            of={[
              "Line",
              { figure: "each card" },
              { figure: "from" },
              { figure: "to" },
              { figure: "rarest card" },
              "not counted",
            ]}
          />
          <tbody>
            {data.copies.map((item) => (
              <tr key={item.line} data-row>
                <td>{item.name}</td>
                <td className="figure">
                  {item.not_counted.length > 0 && item.common !== null && "≥ "}
                  {roughly(item.common)}
                </td>
                <td className="figure">{roughly(item.low)}</td>
                <td className="figure">{roughly(item.high)}</td>
                <td className="figure">{roughly(item.rarest)}</td>
                <td>{item.not_counted.join(", ")}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Section>
      <Aside>
        Estimates from odds and print runs that somebody stated. Redemption lines are left out: their print
        cap is not the number made.
      </Aside>
    </Box>
  );
}
