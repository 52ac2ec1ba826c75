/** What some orders have open together, exactly: money as texts of decimals, under 0 too, in two places or more. */
export function openOf(orders: readonly { amount: string }[]): string {
  const places = Math.max(2, ...orders.map(({ amount }) => decimalsOf(amount).length));
  const sum = orders.reduce(
    (all, { amount }) => all + BigInt(amount.replace(/\..*$/, "") + decimalsOf(amount).padEnd(places, "0")),
    0n,
  );
  const digits = String(sum < 0n ? -sum : sum).padStart(places + 1, "0");
  return `${sum < 0n ? "-" : ""}${digits.slice(0, -places)}.${digits.slice(-places)}`;
}

function decimalsOf(amount: string): string {
  return amount.split(".")[1] ?? "";
}
