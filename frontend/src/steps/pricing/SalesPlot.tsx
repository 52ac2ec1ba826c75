import type { Schemas } from "../../shared/api/client";
import { DotPlot } from "../../shared/DotPlot";
import type { Dot } from "../../shared/dots";
import { day, money } from "../../shared/format";
import { useToday } from "../../shared/useToday";
import { KINDS } from "./kinds";

type Price = Schemas["PriceOut"];

const SALES = new Set(["sold", "auction", "own"]);
const SHAPES: Record<string, Dot["shape"]> = {
  sold: "disc",
  auction: "square",
  own: "diamond",
  ask: "caret",
};
const time = (text: string) => new Date(`${text}T00:00:00`).getTime();

/** Prices over time, all-in at home: sales that count filled, what is flagged hollow; the estimate with its band. */
export function SalesPlot({ data }: { data: Price }) {
  const today = useToday();
  const shown = data.seen.filter((comp) => comp.all_in !== null);
  if (shown.length === 0) return null;
  const amounts = shown.map((comp) => comp.all_in ?? 0);
  const counted = shown
    .filter((comp) => !comp.flagged && SALES.has(comp.kind))
    .map((comp) => comp.all_in ?? 0);
  const most = Math.max(...(counted.length ? counted : amounts), data.interval_high ?? 0) * 1.35;
  return (
    <DotPlot
      label={`${shown.length} prices over time, in ${data.state}; worth about ${money(data.estimate)}`}
      dots={shown.map((comp) => ({
        key: comp.number,
        at: time(comp.day),
        value: comp.all_in ?? 0,
        shape: SHAPES[comp.kind] ?? "dash",
        tone: SALES.has(comp.kind) ? "ink" : "soft",
        hollow: comp.flagged || comp.why !== null,
        text: `${KINDS[comp.kind]}, ${day(comp.day)}: ${money(comp.all_in)}${comp.flagged ? ", far off" : ""}`,
      }))}
      level={data.estimate}
      band={
        data.interval_low !== null && data.interval_high !== null
          ? [data.interval_low, data.interval_high]
          : null
      }
      until={time(today)}
      most={Math.min(most, Math.max(...amounts) * 1.1)}
      text={money}
      legend="● sold, ■ at auction, ◆ your own, ▾ asked; hollow: not counted. The band holds the median."
      heads={["Day", "Kind", `All-in, ${data.currency}`, "Counts"]}
      rows={shown.map((comp) => [
        day(comp.day),
        KINDS[comp.kind],
        money(comp.all_in),
        comp.flagged ? "far off" : (comp.why ?? "yes"),
      ])}
    />
  );
}
