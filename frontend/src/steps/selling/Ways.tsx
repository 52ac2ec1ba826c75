import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQueryClient } from "@tanstack/react-query";
import { client, inWords, take } from "../../shared/api/client";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { money } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { KEYS, stepsOf, versionOf, type Order, type Packing } from "./queries";

/** What comes after a way, round and round. */
export function nextWay(ways: readonly string[], chosen: string | null): string | null {
  if (ways.length < 2) return null;
  return ways[(ways.indexOf(chosen ?? "") + 1) % ways.length]!;
}

/** The ways that fit, what each costs in expectation, and why others do not. */
export function Ways({ order, plan }: { order: Order; plan: Packing }) {
  const queries = useQueryClient();
  const choose = useAct(
    (way: string) =>
      take(
        client.PUT("/api/orders/{number}/way", {
          params: { path: { number: order.number } },
          body: { version: versionOf(queries, order), way },
        }),
      ),
    { keys: KEYS, quiet: true, scope: stepsOf(order.number) },
  );
  const next = nextWay(
    plan.ways.map((it) => it.mail_class),
    plan.chosen,
  );
  useKey("w", "another way to send it", () => next && choose.mutate(next), {
    on: next !== null && !choose.isPending,
  });
  return (
    <Section title="Ways that fit" point={`expected, ${plan.currency}`}>
      <Table label="Ways that fit">
        <Heads of={["way", { figure: "post" }, { figure: "pack" }, { figure: "risk" }, { figure: "all" }]} />
        <tbody>
          {plan.ways.map((it) => {
            const isChosen = it.mail_class === plan.chosen;
            return (
              <tr key={it.mail_class} data-row aria-selected={isChosen}>
                <td>
                  {isChosen ? (
                    <b data-cell>{it.mail_class}</b>
                  ) : (
                    <Button
                      color="inherit"
                      disabled={choose.isPending}
                      onClick={() => choose.mutate(it.mail_class)}
                      sx={{ p: 0, minWidth: 0, textAlign: "left", textDecoration: "underline" }}
                    >
                      {it.mail_class}
                    </Button>
                  )}
                </td>
                <td className="figure">{money(it.postage)}</td>
                <td className="figure">{money(it.packing)}</td>
                <td className="figure">{money(it.expected_loss)}</td>
                <td className="figure">
                  {isChosen ? <b>{money(it.expected_cost)}</b> : money(it.expected_cost)}
                </td>
              </tr>
            );
          })}
          {plan.refused.map((it) => (
            <tr key={it.way} data-row>
              <td data-cell>{it.way}</td>
              <td colSpan={4} style={{ fontSize: 12 }}>
                no: {it.why}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {choose.isError && (
        <Box role="alert" sx={{ color: "error.main", fontSize: 13 }}>
          {inWords(choose.error)}
        </Box>
      )}
      {next && (
        <Box sx={{ fontSize: 13, color: "text.secondary", mt: 0.5 }}>
          another way <Key>W</Key>
        </Box>
      )}
    </Section>
  );
}
