import { generateForm, type PreparedForm, prepareForm } from '@fiche/core/forms';
import { newFieldSchema, type TableDefinition, type Tables } from '@fiche/core/tables';

/** A table whose fields are called as their labels, in small letters. */
export const table = (
  id: string,
  label: string,
  fields: readonly (readonly [label: string, type: string, settings?: object])[],
) =>
  ({
    id,
    cabinet: 'quay',
    label,
    description: '',
    kind: 'records',
    title: null,
    fields: fields.map(([name, type, settings = {}]) => ({
      ...newFieldSchema.parse({ label: name, type, settings }),
      id: name.toLowerCase(),
    })),
    retired: [],
    card: [],
    rules: [],
    constraints: [],
    revision: 1,
  }) satisfies TableDefinition;

/** Berths, stays on them, and what was used: tables for tests of the form editor. */
export const TABLES: Tables = new Map(
  [
    table('quay_berths', 'Berths', [
      ['Number', 'text'],
      ['Longest', 'decimal'],
      ['Power', 'yesNo'],
    ]),
    table('quay_stays', 'Stays', [
      ['Berth', 'link', { table: 'quay_berths' }],
      ['Arrival', 'dateTime'],
      ['Note', 'text'],
    ]),
    table('quay_used', 'Services used', [
      ['Stay', 'link', { table: 'quay_stays' }],
      ['Service', 'text'],
      ['Quantity', 'decimal'],
    ]),
  ].map((one) => [one.id, one]),
);

const MAY = { add: true, change: true, archive: true };

/** A form over stays: with all of its fields, or with none; `subforms` as `table.link`. */
export function stayForm(fields: 'all' | 'none', subforms: readonly string[] = []): PreparedForm {
  const stays = TABLES.get('quay_stays');
  if (!stays) throw new Error('There are stays');
  return prepareForm(generateForm(stays, 'Stay', { may: MAY, opensOn: 'blank', fields, subforms }, TABLES), TABLES);
}
