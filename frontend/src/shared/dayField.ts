/** What makes a text field one for a day. */
export const DAY_FIELD = { type: "date", slotProps: { inputLabel: { shrink: true } } } as const;
