/** A letter of each act that is no other's, its first that is free; null where the act stands further up already. */
export function lettersFor(labels: readonly string[]): (string | null)[] {
  const taken = new Set<string>();
  return labels.map((label, at) => {
    if (labels.indexOf(label) < at) return null;
    const free =
      [...label.toLowerCase()].find((letter) => /[a-z]/.test(letter) && !taken.has(letter)) ?? null;
    if (free) taken.add(free);
    return free;
  });
}
