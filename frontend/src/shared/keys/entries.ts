import { useEffect } from "react";

let takers = 0;

/** Whether the page takes entries by number: then a digit is never a way to another page. */
export function entriesAreTaken(): boolean {
  return takers > 0;
}

/** The page takes entries as long as this stands and `on` holds. */
export function useTakesEntries(on = true): void {
  useEffect(() => {
    if (!on) return undefined;
    takers += 1;
    return () => {
      takers -= 1;
    };
  }, [on]);
}
