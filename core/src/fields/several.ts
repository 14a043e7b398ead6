import type { Value } from './value.ts';

/** Items written one after another: `Quay, "Slip, north"`. An item that holds a mark of its own stands in quotes. */
export const writeItems = (items: readonly (string | number)[]): string =>
  items.map((item) => (/[,;"\n]/.test(String(item)) ? `"${String(item).replaceAll('"', '""')}"` : item)).join(', ');

/**
 * Reads items as people write them, with commas, semicolons or line breaks between; quotes hold an item together that
 * has such a mark. `A, "B, C"; D` is A; B, C; D. Blank items are left out, and an item that comes twice counts once.
 */
export function readItems(text: string): string[] {
  const items: string[] = [];
  for (const [, quoted, plain] of text.matchAll(/\s*(?:"((?:[^"]|"")*)"|([^,;\n]*))\s*(?:[,;\n]|$)/g)) {
    const item = (quoted?.replaceAll('""', '"') ?? plain ?? '').trim();
    if (item !== '' && !items.includes(item)) items.push(item);
  }
  return items;
}

/** The items of a value that holds several; none for a blank one. */
export const itemsOf = (value: Value | undefined): readonly (string | number)[] =>
  Array.isArray(value) ? (value as readonly (string | number)[]) : [];
