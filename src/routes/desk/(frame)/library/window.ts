/** Rows of the list that are told at once. */
export const WINDOW = 30;
