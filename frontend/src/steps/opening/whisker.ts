/** How far the picture reaches: from an eighth of the stated rate to eight times it. */
export const REACH = 8;

/** Where a rate stands beside the stated one, on a scale of ratios: 0 at an eighth, 1/2 where it is as stated, 1 at eight. */
export function besideStated(rate: number, stated: number): number {
  if (rate <= 0) return 0;
  const at = Math.log(rate / stated) / Math.log(REACH) / 2 + 0.5;
  return Math.min(Math.max(at, 0), 1);
}
