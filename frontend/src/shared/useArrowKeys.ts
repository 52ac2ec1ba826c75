import { useEffect, useRef, type FocusEvent, type KeyboardEvent, type RefObject } from "react";

const STEPS: Record<string, readonly [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};
const ROW = "tr, [data-row]";
// A form that stands in a row keeps its own stops.
const CELL = ["a[href]", "button", "[data-cell]", "input[type=checkbox]"]
  .map((it) => `${it}:not(form *)`)
  .join(", ");

/** Where an arrow leads from a cell in rows of cells; null at the border. Home and End lead to the ends of a row. */
export function neighbour<T>(rows: readonly (readonly T[])[], from: T, key: string): T | null {
  const row = rows.findIndex((cells) => cells.includes(from));
  if (row < 0) return null;
  if (key === "Home") return rows[row]?.at(0) ?? null;
  if (key === "End") return rows[row]?.at(-1) ?? null;
  const step = STEPS[key];
  if (!step) return null;
  const column = rows[row]?.indexOf(from) ?? 0;
  const target = rows[row + step[0]];
  if (!target?.length) return null;
  const next = step[0] === 0 ? column + step[1] : Math.min(column, target.length - 1);
  return target[next] ?? null;
}

/** One of the cells is the way in by Tab: the one that was last in use, else the first. */
function setStop(cells: readonly HTMLElement[], wanted?: Element | null): void {
  const stop =
    cells.find((cell) => cell === wanted) ??
    cells.find((cell) => cell.dataset.stop !== undefined) ??
    cells[0];
  for (const cell of cells) {
    const tab = cell === stop ? 0 : -1;
    if (cell.tabIndex !== tab || !cell.hasAttribute("tabindex")) cell.tabIndex = tab;
    if (cell === wanted) cell.dataset.stop = "";
    else if (wanted) delete cell.dataset.stop;
  }
}

interface Keys<E extends HTMLElement> {
  ref: RefObject<E | null>;
  onKeyDown: (event: KeyboardEvent<HTMLElement>) => void;
  onFocus: (event: FocusEvent<HTMLElement>) => void;
}

/**
 * Moves the focus by arrows between what can be used in rows (links, buttons, `[data-cell]`), and makes them one stop
 * for Tab, however many rows there are.
 */
export function useArrowKeys<E extends HTMLElement>(): Keys<E> {
  const ref = useRef<E>(null);
  useEffect(() => {
    const table = ref.current;
    if (!table) return undefined;
    const apply = () => setStop([...table.querySelectorAll<HTMLElement>(CELL)]);
    apply();
    const watch = new MutationObserver(apply); // rows come and go, a cell is opened and closed
    watch.observe(table, { childList: true, subtree: true });
    return () => watch.disconnect();
  }, []);
  return {
    ref,
    onFocus: (event) => {
      const cell = event.target.closest(CELL);
      if (cell && ref.current) setStop([...ref.current.querySelectorAll<HTMLElement>(CELL)], cell);
    },
    onKeyDown: (event) => {
      if (!(event.key in STEPS || event.key === "Home" || event.key === "End")) return;
      if (event.altKey || event.ctrlKey || event.metaKey) return;
      const focused = document.activeElement;
      if (!(focused instanceof HTMLElement) || !focused.matches(CELL)) return;
      const rows = [...event.currentTarget.querySelectorAll(ROW)].map((row) => [
        ...row.querySelectorAll<HTMLElement>(CELL),
      ]);
      const next = neighbour(rows, focused, event.key);
      if (next) {
        event.preventDefault();
        next.focus();
      }
    },
  };
}
