/** By what sales are put together, in words. */
export const BY = {
  way: "way of selling",
  month: "month",
  year: "year",
  lot: "lot",
  session: "session",
  submission: "submission",
  set: "set",
  subject: "subject",
  buyer: "buyer",
} as const;

export type By = keyof typeof BY;

const NONE: Readonly<Record<By, string>> = {
  way: "by hand",
  month: "",
  year: "",
  lot: "of no lot",
  session: "not pulled",
  submission: "never graded",
  set: "of no set",
  subject: "of no subject",
  buyer: "nobody named",
};

/** What stands for a name of a group; a month as people write it. */
export function nameOf(by: By, name: string): string {
  if (name === "") return NONE[by];
  if (by !== "month") return name;
  return new Date(`${name}-15T12:00:00Z`).toLocaleDateString("en-GB", { month: "long", year: "numeric" });
}
