/** Names that no field takes: columns that every record table has from the start, and what would be mistaken for one. */
export const RESERVED_COLUMNS: ReadonlySet<string> = new Set([
  'id',
  'version',
  'created_at',
  'created_by',
  'changed_at',
  'changed_by',
  'archived_at',
  // Every object of JavaScript has it, so that a map of values by field would seem to hold one.
  'constructor',
]);

const LONGEST = 40;

/**
 * The name of a column or table, chosen once from its first label: lower case letters, digits and _; what has no Latin
 * form becomes `fallback`. A name that is taken gets the next free number.
 *
 * nameFrom('Owner’s phone', new Set(), 'field') is `owners_phone`; a second one is `owners_phone_2`; nameFrom('泊位',
 * new Set(), 'field') is `field`.
 */
export function nameFrom(label: string, taken: ReadonlySet<string>, fallback: string): string {
  const plain = label
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/['’]/g, '')
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^[^a-z]+|_+$/g, '')
    .slice(0, LONGEST)
    .replace(/_+$/, '');
  const base = plain === '' ? fallback : plain;
  if (!taken.has(base) && !RESERVED_COLUMNS.has(base)) return base;
  for (let n = 2; ; n++) if (!taken.has(`${base}_${n}`)) return `${base}_${n}`;
}
