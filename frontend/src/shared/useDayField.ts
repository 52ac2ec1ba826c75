import { useState } from "react";
import { day } from "./format";
import { readDay } from "./forms/reading";
import { useToday } from "./useToday";

/**
 * A day that is typed in a `ValueField` of its own, today until then, in any way in which days are written: the day (null
 * where none can be read) and what its field shows, with what the server `refused` of it.
 */
export function useDayField() {
  const today = useToday();
  const [said, setSaid] = useState<string | null>(null);
  const read = said === null ? { value: today } : readDay(said, today);
  const fault = "fault" in read ? read.fault : null;
  return {
    day: "value" in read ? read.value : null,
    field: (refused?: string) => ({
      value: said ?? day(today),
      commit: setSaid,
      fault: fault ?? refused ?? null,
    }),
  };
}
