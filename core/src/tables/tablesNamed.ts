/**
 * The ids of all tables that a definition names: of a form (its own, those of its subforms and fills) or of a field's
 * settings (where it links to, the list whose level it is). Every place that can name a table calls it `table`, so one
 * walk over the plain JSON finds them all.
 *
 * @example tablesNamed({ level: { table: 'quay_faults', column: 'system' } }) // ['quay_faults']
 */
export function tablesNamed(definition: unknown): string[] {
  const found = new Set<string>();
  const walk = (part: unknown): void => {
    if (typeof part !== 'object' || part === null) return;
    for (const [key, value] of Object.entries(part))
      if (key === 'table' && typeof value === 'string') found.add(value);
      else walk(value);
  };
  walk(definition);
  return [...found];
}
