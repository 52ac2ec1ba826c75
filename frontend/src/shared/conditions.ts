/** The conditions of a raw card, the best first. */
export const CONDITIONS = ["mint", "NM", "LP", "MP", "HP", "damaged"] as const;
