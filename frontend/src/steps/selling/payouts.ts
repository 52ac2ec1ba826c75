/** What some orders have open together, to the cent (money as texts of decimals). */
export function openOf(orders: readonly { amount: string }[]): string {
  const cents = orders.reduce((sum, it) => sum + Math.round(Number(it.amount) * 100), 0);
  return (cents / 100).toFixed(2);
}
