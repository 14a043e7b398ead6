import { type CabinetFile, renameTables } from '@fiche/core/exports';
import { holdsFiles, itemsOf, linksSeveral, type Value, writeItems } from '@fiche/core/fields';
import { type DefinedForm, withoutViews } from '@fiche/core/forms';
import { quoted, relation } from '@fiche/core/queries';
import { type FieldDefinition, type Ripple, type TableDefinition, targetTable } from '@fiche/core/tables';
import { strToU8, type Zippable, zipSync } from 'fflate';
import type { Database, Transaction } from '../database/index.ts';
import { type Definitions, loadDefinitions } from '../definitions/index.ts';
import { csvLines } from '../formats/index.ts';
import { isTextual, plainText } from './pages.ts';

/** The earliest moment that a zip can write: files in it have no time of their own, so that the same cabinet gives the same bytes. */
const NO_TIME = new Date(1980, 0, 1);

/** A cabinet as a zip: `cabinet.json` with the definitions, and `data/{table}.csv` for each table. As one moment sees it. */
export function cabinetZip(app: Database, cabinet: string): Promise<Uint8Array> {
  return app.transaction(
    async (transaction) => {
      const definitions = await loadDefinitions(transaction);
      const tables = [...definitions.tables.values()].filter((table) => table.cabinet === cabinet);
      const names = new Map(tables.map((table) => [table.id, nameOf(table.id, cabinet)]));
      const rename = (id: string): string => names.get(id) ?? id;
      const definition = renameTables(fileOf(definitions, cabinet, tables), rename);
      const files: Zippable = { 'cabinet.json': strToU8(`${JSON.stringify(definition, null, 2)}\n`) };
      for (const table of tables) files[`data/${rename(table.id)}.csv`] = strToU8(await dataOf(transaction, table));
      return zipSync(files, { mtime: NO_TIME, level: 6 });
    },
    { isolationLevel: 'repeatable read', readOnly: true },
  );
}

/** A table's name in the file: its id without the cabinet's, which is another one elsewhere. */
export const nameOf = (id: string, cabinet: string): string =>
  id.startsWith(`${cabinet}_`) ? id.slice(cabinet.length + 1) : id;

const fieldsOf = (fields: readonly FieldDefinition[]) =>
  fields.map(({ id, ...definition }) => {
    const { pairs: _pairs, ...settings } = definition.settings;
    return { id, definition: { ...definition, settings } };
  });

function fileOf({ cabinets, forms }: Definitions, cabinet: string, tables: readonly TableDefinition[]): CabinetFile {
  return {
    $schema: '/api/schemas/cabinet-file.json',
    format: 'fiche-cabinet',
    version: 1,
    label: cabinets.get(cabinet)?.label ?? cabinet,
    tables: tables.map((table) => ({
      name: nameOf(table.id, cabinet),
      label: table.label,
      description: table.description,
      kind: table.kind,
      title: table.title,
      fields: fieldsOf(table.fields),
      retired: fieldsOf(table.retired),
      card: [...table.card],
      rules: [...table.rules],
      constraints: [...table.constraints],
      ripples: withoutAccounts(table.ripples ?? []),
    })),
    forms: [...forms.values()]
      .filter((form) => form.cabinet === cabinet)
      .map((form) => ({
        name: nameOf(form.id, cabinet),
        draft: withoutReferences(form.draft),
        live: form.live && withoutReferences(form.live),
      })),
  };
}

/** Ripples without the messages to accounts, which are not in the file. */
const withoutAccounts = (ripples: readonly Ripple[]): Ripple[] =>
  ripples.flatMap((ripple) => {
    const effects = ripple.effects.filter((one) => one.does !== 'message' || one.to.kind !== 'account');
    return effects.length === 0 ? [] : [{ ...ripple, effects }];
  });

/** A form without what refers to views, which are not in the file, and to other forms. */
const withoutReferences = ({ after: _after, starts: _starts, ...form }: DefinedForm): DefinedForm => withoutViews(form);

/** Columns that stand before a table's own: a record's number in the file, and whether it is archived. */
const NUMBER = 'record number';
const ARCHIVED = 'archived';

/** All records of a table as CSV, archived ones too. Records are numbered from 1; links are those numbers. */
async function dataOf(transaction: Transaction, table: TableDefinition): Promise<string> {
  const fields = [...table.fields, ...table.retired];
  const columns = fields.map((field) => `${numberSql(field)} AS ${quoted(field.id)}`);
  const { rows } = await transaction.raw<{ rows: (Record<string, Value> & { number: number; gone: boolean })[] }>(
    `SELECT row_number() OVER (ORDER BY r.id) AS number, r.archived_at IS NOT NULL AS gone${columns.map((column) => `, ${column}`).join('')} FROM ${relation(table.id)} r ORDER BY r.id`,
  );
  const cell = (field: FieldDefinition, value: Value): string =>
    // Files stay where they are: a cabinet file holds none.
    holdsFiles(field) ? '' : linksSeveral(field) ? writeItems(itemsOf(value)) : plainText(field, value ?? null);
  const lines = rows.map((row) => [
    String(row.number),
    row.gone ? 'yes' : '',
    ...fields.map((field) => cell(field, row[field.id] ?? null)),
  ]);
  const guard = [false, false, ...fields.map((field) => isTextual(field) && targetTable(field) === undefined)];
  return csvLines([[NUMBER, ARCHIVED, ...fields.map((field) => field.id)]], [false]) + csvLines(lines, guard);
}

/** A link as the number that its record has in the file: its place among the records of its table. */
function numberSql(field: FieldDefinition): string {
  const target = targetTable(field);
  const column = `r.${quoted(field.id)}`;
  if (target === undefined) return column;
  const numbered = `(SELECT id, row_number() OVER (ORDER BY id) AS n FROM ${relation(target)}) t`;
  return linksSeveral(field)
    ? `(SELECT array_agg(t.n ORDER BY array_position(${column}, t.id)) FROM ${numbered} WHERE t.id = ANY(${column}))`
    : `(SELECT t.n FROM ${numbered} WHERE t.id = ${column})`;
}
