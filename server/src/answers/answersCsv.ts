import { isLinking } from '@fiche/core/fields';
import { say, sayLater } from '@fiche/core/languages';
import { civilOf } from '@fiche/core/office';
import type { FieldDefinition, IdOfForm, TableDefinition, Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { isTextual, plainText } from '../exports/index.ts';
import { csvLines } from '../formats/index.ts';
import { findRecordsWhere } from '../records/index.ts';
import { answersOf } from './list.ts';

const STEP = 200;
const HEAD = [
  sayLater('Answered at'),
  sayLater('Reference'),
  sayLater('Version'),
  sayLater('Came by'),
  sayLater('Corrections'),
  sayLater('Consent'),
];

/**
 * All answers of a form as CSV, newest first, with the values of the records that they made: of those that the reader sees and
 * `limit` (SQL over `r`) lets them export.
 */
export async function* answersCsv(
  database: Database,
  tables: Tables,
  { form, table }: { readonly form: IdOfForm; readonly table: TableDefinition },
  limit: string | null,
): AsyncGenerator<string> {
  const { fields } = table;
  const guard = [...HEAD.map(() => true), ...fields.map(isTextual)];
  yield `\ufeff${csvLines(
    [[...HEAD.map((one) => say(one)), ...fields.map((field) => field.label)]],
    guard.map(() => true),
  )}`;
  for (let before: number | undefined; ; ) {
    const answers = await answersOf(database, tables, { form, table: table.id }, { before, limit: STEP });
    const ids = answers.map((one) => one.records[0]?.record ?? 0);
    const allowed = limit === null ? '' : ` AND ${limit}`;
    const records = new Map(
      (await findRecordsWhere(database, tables, table.id, `r.id = ANY(?)${allowed}`, [ids])).map((one) => [
        one.id,
        one,
      ]),
    );
    const rows = answers.flatMap((one, at) => {
      const record = records.get(ids[at] ?? 0);
      if (!record) return [];
      const shown = (field: FieldDefinition): string =>
        isLinking(field) ? (record.linked[field.id]?.title ?? '') : plainText(field, record.values[field.id] ?? null);
      return [
        [
          civilOf(new Date(one.at)).replace('T', ' '),
          one.reference,
          String(one.version),
          cameBy(one),
          String(one.corrections),
          one.consent ?? '',
          ...fields.map(shown),
        ],
      ];
    });
    if (rows.length > 0) yield csvLines(rows, guard);
    before = answers.at(-1)?.id;
    if (answers.length < STEP || before === undefined) return;
  }
}

/** How the sender of an answer came to the page, in words. */
const cameBy = ({ code, link }: { readonly code: string | null; readonly link: number | null }): string =>
  code !== null ? `code ${code}` : link !== null ? say('personal link L-{link}', { link }) : 'page';
