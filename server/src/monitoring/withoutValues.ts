/** So much of a statement's text is told. */
const MOST = 1_000;

/** A statement’s text without what is written in it: its values are bound, and what is quoted is left out as well. */
export const withoutValues = (sql: string): string =>
  sql
    .replaceAll(/'(?:[^']|'')*'/g, "'…'")
    .replaceAll(/\s+/g, ' ')
    .slice(0, MOST);
