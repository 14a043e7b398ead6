import { type RecordView, routes } from '@fiche/core/api';
import type { PreparedForm } from '@fiche/core/forms';
import { relation } from '@fiche/core/queries';
import { rightTo, rightToHistory } from '@fiche/core/rights';
import type { RecordId, TableId } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { callersLimit, hasRight, route } from '../access/index.ts';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { findForm, prepared, versionOf } from '../forms/index.ts';
import { notFound } from '../http/index.ts';
import { findRecord, linesOfForm, listRecords, originsOfRecord, placeOf } from '../records/index.ts';
import type { Services } from '../services.ts';

/** What the caller may do with one record, where that is not the same for all of its table. */
async function mayOf(
  database: Database,
  definitions: Definitions,
  tableId: TableId,
  id: RecordId,
): Promise<Pick<RecordView, 'may'>> {
  const table = definitions.tables.get(tableId);
  if (!table || !definitions.seen) return {};
  const { role } = definitions.seen;
  const verdicts = [rightTo(role, 'change', table), rightTo(role, 'archive', table), rightToHistory(role, table)];
  if (verdicts.every((one) => typeof one === 'string')) return {};
  const [change, archive, history] = verdicts.map((one) => callersLimit(definitions, table, 'r', () => one) ?? 'TRUE');
  const { rows } = await database.raw<{ rows: Record<'change' | 'archive' | 'history', boolean | null>[] }>(
    `SELECT ${change} AS change, ${archive} AS archive, ${history} AS history FROM ${relation(tableId)} r WHERE r.id = ?`,
    [id],
  );
  const [row] = rows;
  return {
    may: { change: row?.change === true, archive: row?.archive === true, history: row?.history === true },
  };
}

/**
 * Reads records as a form opens them: one, with its place, where its values came from and the lines that the form shows;
 * or a page of them, to be filled as rows.
 */
export function openRecordRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;

  /** A version of a form; without a number the draft for who builds, and the published one for anybody else. */
  async function formOf(definitions: Definitions, id: string, version: number | undefined): Promise<PreparedForm> {
    const row = findForm(definitions, id);
    const builds = hasRight(definitions, 'build');
    const definition =
      version === undefined && builds ? row.draft : (await versionOf(database, row, version)).definition;
    return prepared(definitions, definition);
  }

  route(app, services, routes.readRecord, async ({ params, query, definitions }) => {
    const table = params.table ?? '';
    const record = await findRecord(database, definitions.tables, table, Number(params.id));
    const origins = await originsOfRecord(database, definitions.tables, table, record.id);
    const opened = {
      ...record,
      origins,
      ...(await mayOf(database, definitions, table, record.id)),
      place: await placeOf(database, definitions.tables, table, record.id),
    };
    if (query.form === undefined) return opened;
    const form = await formOf(definitions, query.form, query.version);
    if (form.table.id !== table) throw notFound('This form over that table');
    return form.subforms.size === 0
      ? opened
      : { ...opened, lines: await linesOfForm(database, form, record.id, { tables: definitions.tables }) };
  });

  route(app, services, routes.formRecords, async ({ params, query, definitions }) => {
    const form = await formOf(definitions, params.form ?? '', query.version);
    const page = { ...query, direction: 'up', search: '', archived: 'no' } as const;
    const wanted = (field: { readonly id: string }) => form.fields.get(field.id)?.factPaths ?? [];
    const { records, after } = await listRecords(database, definitions.tables, form.table.id, page, wanted);
    return { records, after };
  });
}
