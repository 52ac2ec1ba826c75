/** Which share of the whole the 1, 2, … dearest cards carry: points of (cards, share). */
export function carried(values: readonly number[]): [number, number][] {
  const whole = values.reduce((sum, value) => sum + value, 0);
  let sum = 0;
  const points = [...values]
    .sort((a, b) => b - a)
    .map((value, index): [number, number] => [index + 1, (sum += value) / whole]);
  return [[0, 0], ...points];
}
