/** What is of no use on paper. */
export const OFF_PAPER = { "@media print": { display: "none" } };
