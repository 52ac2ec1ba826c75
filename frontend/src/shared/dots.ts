/** Something that stands at a time and a height. */
export interface Dot {
  key: number | string;
  at: number;
  value: number;
  shape: "disc" | "square" | "diamond" | "caret" | "dash";
  tone: "ink" | "soft";
  hollow: boolean;
  /** What it is, as words. */
  text: string;
}

/** Which dot a key leads to, in the order of time; null ends reading; undefined for other keys. */
export function nextDot(key: string, dots: readonly Dot[], at: number | null): number | null | undefined {
  if (key === "Escape") return at === null ? undefined : null;
  const order = dots.map((_, index) => index).sort((a, b) => dots[a]!.at - dots[b]!.at || a - b);
  const place = at === null ? null : order.indexOf(at);
  const end = order.length - 1;
  const to: Record<string, number> = {
    ArrowRight: place === null ? 0 : place + 1,
    ArrowLeft: place === null ? end : place - 1,
    Home: 0,
    End: end,
  };
  const next = to[key];
  return next === undefined ? undefined : order[Math.min(Math.max(next, 0), end)];
}
