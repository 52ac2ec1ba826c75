import { day } from "./format";
import { readDay } from "./forms/reading";
import { useAddress } from "./useAddress";
import { useToday } from "./useToday";
import { ValueField } from "./ValueField";

/** From which day to which, in the address; empty is ever, or today. */
export function DaysFromTo({ first, last }: { first: string; last: string }) {
  const [, change] = useAddress();
  const today = useToday();
  const set = (key: "first" | "last") => (text: string) => {
    const read = readDay(text, today);
    change({ [key]: text === "" ? null : "value" in read ? read.value : text });
  };
  return (
    <>
      <ValueField
        label="From"
        value={first && day(first)}
        commit={set("first")}
        hint="empty: ever"
        width={120}
      />
      <ValueField label="To" value={last && day(last)} commit={set("last")} hint="empty: today" width={120} />
    </>
  );
}
