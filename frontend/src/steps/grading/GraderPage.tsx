import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { EditableCell } from "../../shared/EditableCell";
import { faultAt, otherFaults } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { asPercent, money } from "../../shared/format";
import { readAmount, readShare, readWhole } from "../../shared/forms/reading";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { ValueField } from "../../shared/ValueField";
import { KEYS, type Grader } from "./queries";

type Said = Schemas["GraderIn"];
type Tier = Said["tiers"][number];
type Limit = NonNullable<Said["limits"]>[number];

/** What says its own refusal. */
const FIELDS =
  /^(refusal|cap|duty_fixed|membership|back_weight|duty_share|grades|subgrades|columns|packing)$/;

function toBody(data: Grader): Said {
  const body: Partial<Grader> = { ...data };
  delete body.number;
  return body as Said;
}

const read = (text: string) => {
  const found = readAmount(text);
  return "value" in found ? found.value : text;
};

/** A grader: scale, tiers, limits, how parts make a whole, its form and its packing; corrected where it stands. */
export default function GraderPage() {
  const number = Number(useParams().number);
  const found = useQuery({
    queryKey: ["graders", "one", number],
    queryFn: () => take(client.GET("/api/graders/{number}", { params: { path: { number } } })),
  });
  if (!found.data) return <Answer of={found} />;
  return <Shown data={found.data} />;
}

function Shown({ data }: { data: Grader }) {
  const navigate = useNavigate();
  const path = { number: data.number };
  const keep = (body: Said) => take(client.PUT("/api/graders/{number}", { params: { path }, body }));
  const kept = { keys: KEYS, text: "Kept.", quiet: true };
  const save = useAct(keep, kept);
  const correct = useAct(keep, kept); // cells say their own refusals
  const remove = useAct(() => take(client.DELETE("/api/graders/{number}", { params: { path } })), {
    keys: KEYS,
    text: `${data.name} is out of use.`,
    undo: () => take(client.POST("/api/graders/{number}/restore", { params: { path } })),
    done: () => void navigate("/grading/-/graders"),
  });
  const put = (change: Partial<Said>) => correct.mutateAsync({ ...toBody(data), ...change });
  const tier = (at: number, change: Partial<Tier>) =>
    put({ tiers: data.tiers.map((it, place) => (place === at ? { ...it, ...change } : it)) });
  const limit = (at: number, change: Partial<Limit>) =>
    put({ limits: data.limits.map((it, place) => (place === at ? { ...it, ...change } : it)) });
  const field = (
    name: "refusal" | "cap" | "duty_fixed" | "membership" | "back_weight" | "duty_share",
    label: string,
    hint?: string,
  ) => {
    const isShare = name === "back_weight" || name === "duty_share";
    const value = data[name];
    return (
      <ValueField
        label={label}
        value={value === null ? "" : isShare ? asPercent(Number(value)) : value}
        commit={(text) => {
          const share = readShare(text);
          const said = isShare ? ("value" in share ? share.value : text) : read(text);
          save.mutate({ ...toBody(data), [name]: text === "" ? null : said });
        }}
        fault={faultAt(save.error, name) ?? null}
        {...(hint ? { hint } : {})}
        inputMode="decimal"
        width={170}
      />
    );
  };
  const words = (name: "grades" | "subgrades" | "columns" | "packing", label: string, between: string) => (
    <ValueField
      label={label}
      value={data[name].join(between)}
      commit={(text) =>
        save.mutate({
          ...toBody(data),
          [name]: text
            .split(between.trim() || between)
            .map((part) => part.trim())
            .filter(Boolean),
        })
      }
      fault={faultAt(save.error, name) ?? null}
      width={740}
    />
  );
  const scale = (
    <>
      {words("subgrades", "Subgrades, none for none", ", ")}
      <Box sx={{ maxWidth: 420 }}>
        <Table label="Centering limits">
          <thead>
            <tr>
              <th scope="col">grade</th>
              <th scope="col" className="figure">
                front
              </th>
              <th scope="col" className="figure">
                back
              </th>
              <th scope="col" aria-label="actions" />
            </tr>
          </thead>
          <tbody>
            {data.limits.map((it, at) => (
              <tr key={it.grade} data-row>
                <td data-cell>{it.grade}</td>
                {(["front", "back"] as const).map((side) => (
                  <td key={side} className="figure">
                    <EditableCell
                      label={`${side} of a ${it.grade}`}
                      value={it[side]}
                      shown={Number(it[side]).toFixed(0)}
                      save={(text) => limit(at, { [side]: read(text) })}
                    />
                  </td>
                ))}
                <td className="figure">
                  <Button
                    color="inherit"
                    aria-label={`Remove the limit of a ${it.grade}`}
                    onClick={() =>
                      save.mutate({ ...toBody(data), limits: data.limits.filter((_, n) => n !== at) })
                    }
                  >
                    Remove
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Box>
      <FieldRow>
        <ChoiceBox
          label="A limit for"
          value=""
          set={(grade) =>
            save.mutate({
              ...toBody(data),
              limits: [...data.limits, { grade, front: "100", back: "100" }].sort(
                (a, b) => Number(b.grade) - Number(a.grade),
              ),
            })
          }
          choices={Object.fromEntries(
            data.grades
              .filter((grade) => !data.limits.some((it) => it.grade === grade))
              .map((grade) => [grade, `a ${grade}`]),
          )}
          width={120}
        />
        <ChoiceBox
          label="Parts make a whole"
          value={data.whole}
          set={(whole) => save.mutate({ ...toBody(data), whole: whole as Said["whole"] & string })}
          choices={{ weakest: "by the weakest", mean: "by their mean" }}
          width={170}
        />
        {field("cap", "Steps above the lowest", "at most, for the mean")}
        {field("back_weight", "The back counts, %")}
      </FieldRow>
    </>
  );
  return (
    <PageTitle
      title={data.name}
      plain={`${data.name}, as you describe it`}
      crumbs={[
        { name: "Grading", to: "/grading" },
        { name: "Graders", to: "/grading/-/graders" },
        { name: data.name },
      ]}
    >
      {otherFaults(save.error, (name) => FIELDS.test(name)).map((words) => (
        <Box key={words} role="alert" sx={{ color: "error.main", mb: 1 }}>
          {words}
        </Box>
      ))}
      <Section title="Tiers" point={`in ${data.currency}`}>
        <Table label="Tiers">
          <thead>
            <tr>
              <th scope="col">tier</th>
              {["fee", "cards at least", "takes up to", "up-charge", "days"].map((name) => (
                <th key={name} scope="col" className="figure">
                  {name}
                </th>
              ))}
              <th scope="col">members</th>
              <th scope="col" aria-label="actions" />
            </tr>
          </thead>
          <tbody>
            {data.tiers.map((it, at) => (
              <tr key={it.id} data-row>
                <td>
                  <EditableCell
                    label={`Name of the tier ${it.name}`}
                    value={it.name}
                    align="left"
                    save={(name) => tier(at, { name })}
                  />
                </td>
                {(["fee", "min_cards", "value_limit", "up_charge", "days"] as const).map((name) => {
                  const value = it[name];
                  const isCount = name === "min_cards" || name === "days";
                  return (
                    <td key={name} className="figure">
                      <EditableCell
                        label={`${name.replace("_", " ")} of ${it.name}`}
                        value={value === null ? "" : String(value)}
                        shown={value === null ? "none" : isCount ? String(value) : money(value)}
                        save={(text) => {
                          if (!isCount) return tier(at, { [name]: text === "" ? null : read(text) });
                          const found = readWhole(text);
                          if (text !== "" && !("value" in found))
                            return Promise.reject(new Error(found.fault));
                          return tier(at, { [name]: "value" in found ? found.value : null });
                        }}
                      />
                    </td>
                  );
                })}
                <td>
                  <Checkbox
                    size="small"
                    checked={it.members_only}
                    slotProps={{ input: { "aria-label": `${it.name} is for members` } }}
                    onChange={(event) =>
                      void tier(at, { members_only: event.target.checked }).catch(() => {})
                    }
                  />
                </td>
                <td className="figure">
                  {data.tiers.length > 1 && (
                    <Button
                      color="inherit"
                      aria-label={`Remove ${it.name}`}
                      onClick={() =>
                        save.mutate({ ...toBody(data), tiers: data.tiers.filter((_, n) => n !== at) })
                      }
                    >
                      Remove
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
        <Button
          color="inherit"
          onClick={() =>
            save.mutate({
              ...toBody(data),
              tiers: [
                ...data.tiers,
                { ...data.tiers.at(-1)!, id: `tier ${Date.now()}`, name: `Tier ${data.tiers.length + 1}` },
              ],
            })
          }
        >
          Another tier
        </Button>
        <FieldRow>
          {field("membership", "Membership a year", "empty: there is none")}
          {field("refusal", "A refused card costs")}
          {field("duty_share", "Duty on the bill, %")}
          {field("duty_fixed", "and a fixed part")}
        </FieldRow>
      </Section>
      <Section
        title="How it grades"
        point={
          data.grades.length
            ? "limits are the larger share of two borders, in percent"
            : "not: it signs or repairs"
        }
      >
        {words("grades", "Grades, from the top down; none for who signs or repairs", ", ")}
        {data.grades.length > 0 && scale}
      </Section>
      <Section title="Its form and packing" point="in the order in which the grader wants them">
        {words("columns", "Columns of the form", ", ")}
        {words("packing", "Steps of packing, with a semicolon between", "; ")}
      </Section>
      <Button color="inherit" disabled={remove.isPending} onClick={() => remove.mutate(undefined)}>
        Take {data.name} out of use
      </Button>
    </PageTitle>
  );
}
