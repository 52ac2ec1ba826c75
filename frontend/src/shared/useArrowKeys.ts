import type { KeyboardEvent } from "react";

const STEPS: Record<string, readonly [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

/** Where an arrow leads from a cell in rows of cells; null at the border. */
export function neighbour<T>(rows: readonly (readonly T[])[], from: T, key: string): T | null {
  const step = STEPS[key];
  const row = rows.findIndex((cells) => cells.includes(from));
  if (!step || row < 0) return null;
  const column = rows[row]?.indexOf(from) ?? 0;
  const target = rows[row + step[0]];
  if (!target?.length) return null;
  const next = step[0] === 0 ? column + step[1] : Math.min(column, target.length - 1);
  return target[next] ?? null;
}

/** A key handler for a table: arrows move the focus between `[data-cell]` in `[data-row]`. */
export function useArrowKeys() {
  return (event: KeyboardEvent<HTMLElement>) => {
    if (!(event.key in STEPS) || event.altKey || event.ctrlKey || event.metaKey) return;
    const focused = document.activeElement;
    if (!(focused instanceof HTMLElement) || !focused.matches("[data-cell]")) return;
    const rows = [...event.currentTarget.querySelectorAll("[data-row]")].map((row) => [
      ...row.querySelectorAll<HTMLElement>("[data-cell]"),
    ]);
    const next = neighbour(rows, focused, event.key);
    if (next) {
      event.preventDefault();
      next.focus();
    }
  };
}
