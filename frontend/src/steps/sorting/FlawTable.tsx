import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { asPercent } from "../../shared/format";
import { readShare } from "../../shared/forms/reading";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";

type Rules = Schemas["FlawTableOut"];
type RuleIn = Schemas["FlawRuleIn"];

const said = (rules: Rules["rules"]): RuleIn[] =>
  rules.map(({ kinds, places, side, sizes, lenient, strict }) => ({
    kinds,
    places,
    side,
    sizes,
    lenient,
    strict,
  }));

/** The table that conditions are judged by: how many flaws each allows, in both readings, editable where it stands. */
export function FlawTable() {
  const table = useQuery({
    queryKey: ["sorting", "flaws"],
    queryFn: () => take(client.GET("/api/sorting/flaws")),
  });
  const save = useAct(
    (rules: RuleIn[] | null) =>
      take(client.PUT("/api/sorting/flaws", { body: { version: table.data?.version ?? 0, rules } })),
    { keys: ["sorting", "items"], quiet: true },
  );
  const saveFactors = useAct(
    (factors: Record<string, string>) =>
      take(
        client.PUT("/api/sorting/factors", { body: { version: table.data?.factors_version ?? 0, factors } }),
      ),
    { keys: ["sorting", "items"], quiet: true },
  );
  if (!table.data) return <Answer of={table} />;
  const { rules, factors } = table.data;
  const put = (at: number, part: Partial<RuleIn>) =>
    save.mutateAsync(said(rules).map((rule, place) => (place === at ? { ...rule, ...part } : rule)));
  return (
    <Section
      title="The table it is judged by"
      point="“NM 2, LP 4, MP”: up to two at NM, up to four at LP, more at MP"
    >
      <Table label="Flaws and conditions">
        <Heads of={["Flaw", "leniently", "strictly", { hidden: "actions" }]} />
        <tbody>
          {rules.map((rule, at) => (
            <tr key={at} data-row>
              <td>
                <span data-cell>{rule.words}</span>
              </td>
              {(["lenient", "strict"] as const).map((which) => (
                <td key={which}>
                  <EditableCell
                    value={rule[which]}
                    label={`${rule.words}, ${which === "lenient" ? "leniently" : "strictly"}`}
                    align="left"
                    width={210}
                    save={(text) => put(at, { [which]: text })}
                  />
                </td>
              ))}
              <td className="figure">
                <Button
                  color="inherit"
                  data-cell
                  aria-label={`leave out: ${rule.words}`}
                  onClick={() => save.mutate(said(rules).filter((_, place) => place !== at))}
                  sx={{ minWidth: 0 }}
                >
                  leave out
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Table label="What a condition is worth of NM">
        <Heads of={["Without sales of its own, a card is worth, of NM", { figure: "%" }]} />
        <tbody>
          {Object.entries(factors).map(([name, factor]) => (
            <tr key={name} data-row>
              <td>
                <span data-cell>{name}</span>
              </td>
              <td className="figure">
                <EditableCell
                  value={asPercent(Number(factor))}
                  shown={`${asPercent(Number(factor))} %`}
                  label={`${name}, of NM`}
                  save={(text) => {
                    const read = Number(text) > 100 ? { value: String(Number(text) / 100) } : readShare(text);
                    if ("fault" in read) return Promise.reject(new Error(read.fault));
                    return saveFactors.mutateAsync({ ...factors, [name]: read.value });
                  }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Button color="inherit" onClick={() => save.mutate(null)}>
        Back to the table that ships
      </Button>
    </Section>
  );
}
