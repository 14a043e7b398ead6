/** Quotes an identifier. Ids match a strict pattern wherever they enter; this checks again, so that none slips by. */
export function quoted(id: string): string {
  if (!/^[a-z][a-z0-9_]{0,62}$/.test(id)) throw new Error(`Not an identifier: ${id}`);
  return `"${id}"`;
}
