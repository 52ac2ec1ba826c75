import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { counted, hits, money, percent } from "../../shared/format";
import { Aside } from "../../shared/states";
import { useAssume } from "./planning";

type Unknown = Schemas["UnknownOut"];

/** What is unknown and what was assumed, with a place to assume something; and that this is a game of chance. */
export function Doubts({ answer }: { answer: Schemas["AnswerOut"] }) {
  const assume = useAssume(answer.release);
  const [params] = useSearchParams();
  const stated = new URLSearchParams(params);
  stated.delete("odds");
  const byRule = answer.assumed.filter((item) => !item.by_owner);
  const own = answer.assumed.filter((item) => item.matter === "results");
  const cards = byRule.reduce((sum, item) => sum + item.cards.length, 0);
  return (
    <>
      {answer.other_series.length > 0 && (
        <Aside>
          There is another series: <b>{answer.other_series.join(", ")}</b>. Make sure of the series on the
          seal before you pay.
        </Aside>
      )}
      {answer.format.usable < 1 && (
        <Aside>
          Of packs this old about <b>{percent(answer.format.usable)}</b> can be opened; in the others the
          cards stick together and are worth nothing.
        </Aside>
      )}
      <Aside id="guesses">
        {answer.unknown.map((item) => (
          <Line key={item.line + item.matter}>
            {item.matter === "split" ? "Split unknown" : "Left out"}: <b>{item.name}</b>, {item.why}
            {item.hits !== null && ` (${hits(item.hits)} hits expected)`}.{" "}
            <AssumeCell item={item} format={answer.format.id} assume={assume} />
          </Line>
        ))}
        {answer.assumed
          .filter((item) => item.by_owner && item.matter !== "results")
          .map((item) => (
            <Line key={item.line + item.matter}>
              You assume of <b>{item.name}</b>:{" "}
              {item.matter === "price" ? (
                <EditableCell
                  value={String(item.high)}
                  shown={`${money(item.high)} a card`}
                  label={`Assumed price of ${item.name}`}
                  align="left"
                  save={(text) =>
                    assume({ kind: "price", line: item.line, format: null, text }, String(item.high))
                  }
                />
              ) : (
                <EditableCell
                  value={item.words.replace(" of the hits", "")}
                  shown={item.words}
                  label={`Assumed of ${item.name}`}
                  align="left"
                  save={(text) =>
                    assume(
                      {
                        kind: item.matter === "odds" ? "odds" : "split",
                        line: item.line,
                        format: answer.format.id,
                        text,
                      },
                      item.words.replace(" of the hits", ""),
                    )
                  }
                />
              )}
              . Empty it to assume nothing.
            </Line>
          ))}
        {own.length > 0 && (
          <Line>
            The stated odds, moved by what came out of your own boxes:{" "}
            {own.map((item) => `${item.name} ${item.words}`).join("; ")}. The table shows both.{" "}
            <Link to={`?${stated.toString()}`}>Take the odds as stated</Link>.
          </Line>
        )}
        {answer.low && (
          <Line>
            {counted(cards, "unknown price counts", "unknown prices count")} at the average of{" "}
            {cards === 1 ? "its" : "their"} line (
            {byRule.map((item) => `${item.name} ${item.cards.join(", ")}`).join("; ")}). At the line’s lowest
            instead: <Bound bound={answer.low} />.
          </Line>
        )}
        {answer.high && (
          <Line>
            If all hits of the unknown split were of the dearest line instead: <Bound bound={answer.high} />.
          </Line>
        )}
        Opening is a game of chance. These are estimates from prices and odds, not advice.
      </Aside>
    </>
  );
}

function Bound({ bound }: { bound: Schemas["BoundOut"] }) {
  return (
    <>
      average {money(bound.mean)}, middle {money(bound.middle)}, most to pay {money(bound.most)}
      {bound.loss !== null && `, loss ${percent(bound.loss)}`}
    </>
  );
}

function Line({ children }: { children: ReactNode }) {
  return <Box sx={{ mb: 0.75 }}>{children}</Box>;
}

interface AssumeProps {
  item: Unknown;
  format: string;
  assume: ReturnType<typeof useAssume>;
}

function AssumeCell({ item, format, assume }: AssumeProps) {
  const words = { odds: "odds like 1:20 packs", price: "a price a card", split: "its share, like 60 %" };
  const matter = item.matter;
  if (matter === "results") return null; // what came out is known
  return (
    <EditableCell
      value=""
      shown={`assume ${words[matter]}`}
      label={`Assume of ${item.name}`}
      align="left"
      width={140}
      save={(text) =>
        assume({
          kind: matter,
          line: item.line,
          format: matter === "price" ? null : format,
          text,
        })
      }
    />
  );
}
