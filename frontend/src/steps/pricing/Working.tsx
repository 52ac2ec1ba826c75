import Box from "@mui/material/Box";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { count, day, money, percent } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { Act } from "./Act";

type Price = Schemas["PriceOut"];

/** A school by its name, and whether it is the one that counts. */
function mark(data: Price, school: Price["school"] | null, name: string): string {
  return data.school === school ? `${name}, which counts` : name;
}

function askName({ market, state }: Price["asks"][number]): string {
  return `Lowest ask${market ? `, ${market}` : ""}, ${state ?? "not said"}`;
}

/** A change with its sign. */
const moved = (share: number) => `${share < 0 ? "\u2212" : "+"}${percent(Math.abs(share))}`;

/** The page of bids with what is known here. */
function bidOf(known: Record<string, string | null>): string {
  const told = Object.entries(known).filter((it): it is [string, string] => it[1] !== null);
  return `/buying/-/bid?${new URLSearchParams(told).toString()}`;
}

/** The working beside the prices: what to ask, schools, how it moves, other states and graders. */
export function Working({ data, choose }: { data: Price; choose: (state: string) => void }) {
  const { trend } = data;
  return (
    <>
      <Section title="What to ask" point={data.way ? `net by ${data.way}` : data.currency}>
        {data.asking.length === 0 && <Box sx={{ py: 1, color: "text.secondary" }}>Nothing to go by yet.</Box>}
        <Figures
          rows={data.asking.map((it) => [
            it.name,
            `${money(it.price)}${it.net === null ? "" : `, nets ${money(it.net)}`}${it.days === null ? "" : `, about ${count(Math.ceil(it.days))} days`}`,
          ])}
        />
        {data.others.length > 0 && data.asking.length > 0 && (
          <Table label="What it nets elsewhere">
            <Heads of={["Net elsewhere", ...data.asking.map((it) => ({ figure: it.name }))]} />
            <tbody>
              {data.others.map((other) => (
                <tr key={other.way} data-row>
                  <td>{other.way}</td>
                  {other.nets.map((net, at) => (
                    <td key={data.asking[at]?.name} className="figure">
                      {money(net)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </Table>
        )}
      </Section>
      {data.meeting.lowest !== null && (
        <Section title="Offers" point={data.currency}>
          <Figures
            rows={[
              ["Lowest to take", money(data.meeting.lowest)],
              [
                "In person",
                data.meeting.middle === null
                  ? "you net more by selling it"
                  : `${money(data.meeting.seller)} to ${money(data.meeting.buyer)}, say ${money(data.meeting.middle)}`,
              ],
            ]}
          />
          <Aside>
            Less than the lowest is had by asking the quick price. The most to bid:{" "}
            <Link to={bidOf({ ceiling: data.meeting.buyer })}>to keep it</Link>, or{" "}
            <Link to={bidOf({ price: data.asking[1]?.price ?? null })}>to sell it again</Link>.
          </Aside>
        </Section>
      )}
      <Section title="By school" point={`${count(data.used)} sales`}>
        <Figures
          rows={[
            [mark(data, "weighted", "Weighted median"), money(data.weighted)],
            [mark(data, "last", "Last"), money(data.last)],
            [mark(data, "average", "Average"), money(data.mean)],
            [mark(data, "median", "Median"), money(data.median)],
            [
              "Highest ever",
              data.highest === null ? "unknown" : `${money(data.highest)}, ${day(data.highest_on ?? "")}`,
            ],
            [
              "Lowest and highest",
              data.low === null ? "unknown" : `${money(data.low)} to ${money(data.high)}`,
            ],
            ...data.asks.map(
              (ask) =>
                [
                  mark(
                    data,
                    ask.state === data.state && ask.lowest === data.estimate ? "lowest_ask" : null,
                    askName(ask),
                  ),
                  money(ask.lowest),
                ] as const,
            ),
            [
              mark(data, "book", "Book"),
              data.book_low === null && data.book_high === null
                ? "unknown"
                : `${money(data.book_low)} to ${money(data.book_high)}`,
            ],
          ]}
        />
      </Section>
      <Section title="How it moves" point="per 30 days">
        <Figures
          rows={[
            [
              "Trend",
              trend === null
                ? "too few sales, or all alike"
                : `${moved(trend.per_30_days)} (${moved(trend.low)} to ${moved(trend.high)})`,
            ],
            ...(trend
              ? ([
                  ["From", `${day(trend.start_on)}, ${money(trend.start)}`],
                  ["To", `${day(trend.end_on)}, ${money(trend.end)}`],
                ] as const)
              : []),
            ["Sales in 30 days", data.sales_per_30_days.toFixed(1)],
            [
              "Asks last for",
              data.asks.length === 0
                ? "nobody asks"
                : data.months_of_supply === null
                  ? "unknown"
                  : `${data.months_of_supply.toFixed(1)} months`,
            ],
          ]}
        />
        {trend?.starts_at_extreme && (
          <Aside>It starts at its highest or lowest: the plain change misleads.</Aside>
        )}
      </Section>
      {data.states.length > 1 && (
        <Section title="By state" point={data.currency}>
          {data.states.map((it) => (
            <Box key={it.state} sx={{ display: "flex", justifyContent: "space-between", fontSize: 13 }}>
              <Act text={it.state} go={() => choose(it.state)} />
              <span>
                {money(it.estimate)}, {count(it.used)} sales
              </span>
            </Box>
          ))}
        </Section>
      )}
      {data.elsewhere.length > 0 && (
        <Section title="The same grade elsewhere" point={data.currency}>
          <Figures
            rows={data.elsewhere.map((it) => [
              it.state.replace(":", " "),
              `${money(it.estimate)}${it.estimate && data.estimate ? `, ${moved(it.estimate / data.estimate - 1)}` : ""}`,
            ])}
          />
        </Section>
      )}
      {data.assumed && <Aside>{data.assumed}</Aside>}
    </>
  );
}
