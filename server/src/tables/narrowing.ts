import { EVERYTHING, type Group, pathsOf } from '@fiche/core/conditions';
import { fitsNarrowing } from '@fiche/core/entry';
import { isBlank } from '@fiche/core/fields';
import { generateForm, prepareForm, rootOf } from '@fiche/core/forms';
import { joinedWords, say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { prove } from '@fiche/core/proof';
import { type FieldDefinition, type TableDefinition, type Tables, targetTable } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import { type BrokenRecords, brokenRecords } from '../records/index.ts';
import { checkLiveForms } from './liveForms.ts';

/**
 * Refuses a narrowing that a table cannot hold for `field`: of a field that is no link, with sides that are not there or
 * cannot be compared, in a circle, or one that a published form would not work with.
 */
export function checkNarrowing(
  all: Tables,
  forms: Definitions['forms'],
  table: TableDefinition,
  field: FieldDefinition,
): void {
  // Work that a version before has begun knows of no narrowing.
  if (!field.narrowing) return;
  const message = narrowingMisfit(all, table, field, field.narrowing);
  if (message !== undefined) throw unacceptable([{ path: 'narrowing', rule: 'narrowing', message }]);
  checkLiveForms(all, forms, withField(table, field));
}

/** Whether a table can hold the narrowing of `field`, and published forms work with it. */
export function canBeNarrowed(
  all: Tables,
  forms: Definitions['forms'],
  table: TableDefinition,
  field: FieldDefinition,
): boolean {
  try {
    checkNarrowing(all, forms, table, field);
    return true;
  } catch (error) {
    if (error instanceof Refusal) return false;
    throw error;
  }
}

const withField = (table: TableDefinition, field: FieldDefinition): TableDefinition => ({
  ...table,
  fields: table.fields.some((one) => one.id === field.id)
    ? table.fields.map((one) => (one.id === field.id ? field : one))
    : [...table.fields, field],
});

/** Why a table cannot hold a narrowing of `field`, in words. */
function narrowingMisfit(
  all: Tables,
  table: TableDefinition,
  field: FieldDefinition,
  narrowing: Group,
): string | undefined {
  if (targetTable(field) === undefined) return say('Only a link to the records of a table can be narrowed here.');
  if (pathsOf(narrowing, 'enclosing').length > 0)
    return say('A table does not know the card around a line: narrow it in the subform.');
  const mustsOf = (one: TableDefinition): string[] =>
    prove(generateForm(one), new Map(all).set(one.id, one), civilNow())
      .filter((finding) => finding.weight === 'must')
      .map((finding) => finding.message);
  const before = new Set(mustsOf(table));
  return mustsOf(withField(table, field)).find((message) => !before.has(message));
}

/** How many records in use point at one that a narrowing of `field` would not offer them, and the first of them. */
export function tryNarrowing(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  field: FieldDefinition,
  account: string | null,
): Promise<BrokenRecords> {
  const message = narrowingMisfit(tables, table, field, field.narrowing ?? EVERYTHING);
  if (message !== undefined) throw unacceptable([{ path: 'narrowing', rule: 'narrowing', message }]);
  const changed = withField(table, field);
  const form = prepareForm(generateForm({ ...changed, rules: [] }), new Map(tables).set(table.id, changed));
  const parents = [...form.fields.values()].flatMap((one) => pathsOf(one.narrowing.where, 'form'));
  const own = (form.fields.get(field.id)?.factPaths ?? []).map((path) => `${field.id}.${path}`);
  const names = [...new Set(pathsOf(field.narrowing ?? EVERYTHING, 'form').map(rootOf))].map(
    (id) => form.fields.get(id)?.label ?? id,
  );
  const why =
    names.length > 0
      ? say('does not apply with this {names}', { names: joinedWords(names) })
      : say('is not among the choices');
  return brokenRecords(
    database,
    tables,
    table,
    {
      reads: [...new Set([field.id, ...parents, ...own])],
      wrong: (entry) => {
        const facts = isBlank(entry.values[field.id]) ? undefined : entry.linked[field.id]?.facts;
        return facts && fitsNarrowing(entry, field.id, facts) === false ? why : undefined;
      },
    },
    account,
    form,
  );
}
