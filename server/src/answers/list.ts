import type { AnswerView } from '@fiche/core/api';
import { currentOffice } from '@fiche/core/office';
import { recordsOf } from '@fiche/core/queries';
import type { IdOfForm, Tables } from '@fiche/core/tables';
import { ask, type Database } from '../database/index.ts';
import { titlesOf } from '../records/index.ts';
import type { AnswerRecord } from './keep.ts';

interface Row {
  readonly id: number;
  readonly at: Date | string;
  readonly version: number;
  readonly reference: string;
  readonly code: string | null;
  readonly link: number | null;
  readonly records: readonly AnswerRecord[];
  readonly consent: string | null;
  readonly held: number | null;
  readonly corrections: number;
  readonly correctedAt: Date | string | null;
  readonly erasedAt: Date | string | null;
  readonly notErased: string | null;
}

/** Those answers of a form whose own record the reader sees, and those that were erased: SQL over `a` with the id of the form as its one value. */
const seenSql = (tables: Tables, table: string): string =>
  `fiche.answer a WHERE a.form_id = ? AND (a.erased_at IS NOT NULL OR EXISTS (SELECT FROM ${recordsOf(tables, table)} r WHERE r.id = (a.records->0->>'record')::bigint))`;

const iso = (at: Date | string): string => new Date(at).toISOString();

/** A page of the answers of a form, newest first, of those whose record the reader sees in `tables`. */
export async function answersOf(
  database: Database,
  tables: Tables,
  { form, table }: { readonly form: IdOfForm; readonly table: string },
  { before, limit }: { readonly before?: number | undefined; readonly limit: number },
): Promise<AnswerView[]> {
  const rows = await ask<Row>(
    database,
    `SELECT a.id, a.at, a.version, a.reference, a.code, a.link_id AS link, a.records, c.text AS consent, a.held_id AS held,
       a.corrections, a.corrected_at AS "correctedAt", a.erased_at AS "erasedAt", a.not_erased AS "notErased"
     FROM fiche.answer a LEFT JOIN fiche.consent_text c ON c.id = a.consent_id
     WHERE a.id IN (SELECT a.id FROM ${seenSql(tables, table)} AND a.id < ? ORDER BY a.id DESC LIMIT ?) ORDER BY a.id DESC`,
    [form, before ?? Number.MAX_SAFE_INTEGER, limit],
  );
  const wanted = rows.flatMap((row) => row.records.map(({ table: of, record }) => ({ table: of, id: record })));
  const titles = await titlesOf(database, tables, wanted);
  return rows.map(({ records, ...row }) => ({
    ...row,
    at: iso(row.at),
    correctedAt: row.correctedAt === null ? null : iso(row.correctedAt),
    erasedAt: row.erasedAt === null ? null : iso(row.erasedAt),
    records: records.flatMap((one) => {
      const title = titles.get(`${one.table}:${one.record}`);
      return title === undefined ? [] : [{ ...one, title, tableLabel: tables.get(one.table)?.label ?? '' }];
    }),
  }));
}

/** How many answers of a form the reader sees, and how many came on each day of the last year. */
export async function answerCounts(
  database: Database,
  tables: Tables,
  { form, table }: { readonly form: IdOfForm; readonly table: string },
): Promise<{ readonly total: number; readonly days: { readonly day: string; readonly count: number }[] }> {
  const from = seenSql(tables, table);
  const [all] = await ask<{ n: number }>(database, `SELECT count(*) AS n FROM ${from}`, [form]);
  const days = await ask<{ day: string; count: number }>(
    database,
    `SELECT to_char(a.at AT TIME ZONE ?, 'YYYY-MM-DD') AS day, count(*)::integer AS count
     FROM ${from} AND a.at > now() - interval '1 year' GROUP BY 1 ORDER BY 1`,
    [currentOffice().timeZone, form],
  );
  return { total: all?.n ?? 0, days };
}
