/** The event that the owner has left, in this tab or, by the storage they share, in another. */
export const LEFT = "tobbix-left";
