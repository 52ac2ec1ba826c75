/** The grades with their chances from the top down; an object of numbers would have them the other way round. */
export function falling(chances: Readonly<Record<string, number>>): [string, number][] {
  return Object.entries(chances).sort((one, other) => Number(other[0]) - Number(one[0]));
}

/** The chance of the top grade. */
export function gemOf(chances: Readonly<Record<string, number>>): number | undefined {
  return falling(chances)[0]?.[1];
}

/** The grade that is likeliest, with its chance. */
export function likeliest(chances: Readonly<Record<string, number>>): [string, number] | undefined {
  return falling(chances).reduce<[string, number] | undefined>(
    (best, it) => (best === undefined || it[1] > best[1] ? it : best),
    undefined,
  );
}
