import type { Schemas } from "../../shared/api/client";

export type Plan = Schemas["PlanViewOut"];
export type Pass = Plan["passes"][number];
export type PassIn = Schemas["PassIn"];
export type Usual = Schemas["UsualPassesOut"];

/** Hours as they are read: minutes under one hour. */
export function hours(value: number): string {
  if (value < 0.995) return `${Math.round(value * 60)} min`;
  return `${value.toFixed(1).replace(/\.0$/, "")} h`;
}

/** The passes as they are said, to be sent anew with a change. */
export function saidOf(passes: readonly Pass[]): PassIn[] {
  return passes.map(({ kind, name, share, said_rate: rate, said_heaps: heaps, finds }) => ({
    kind,
    name,
    share,
    rate,
    heaps,
    finds,
  }));
}

/** The passes with one moved by so many places; as they were where there is no such place. */
export function moved<T>(passes: readonly T[], at: number, by: number): T[] {
  const to = at + by;
  const all = [...passes];
  if (to < 0 || to >= all.length) return all;
  const [one] = all.splice(at, 1);
  all.splice(to, 0, one!);
  return all;
}

/** The whole plan as it is sent, with a change. */
export function bodyOf(plan: Plan, change: Partial<Schemas["PlanIn"]>): Schemas["PlanIn"] {
  const { version, name, cards, hourly, table, box_holds, expected, item } = plan;
  return {
    version,
    name,
    cards,
    hourly,
    table,
    box_holds,
    expected,
    item,
    passes: saidOf(plan.passes),
    ...change,
  };
}
