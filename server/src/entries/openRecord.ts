import { type RecordView, routes } from '@fiche/core/api';
import type { AskedAnswers } from '@fiche/core/conditions';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { relation } from '@fiche/core/queries';
import { type Asking, rightTo, rightToHistory } from '@fiche/core/rights';
import type { RecordId, TableDefinition, TableId } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { type Call, callersLimit, hasRight, route } from '../access/index.ts';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { findForm, prepared, versionOf } from '../forms/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { mergedInto } from '../merging/index.ts';
import {
  findRecord,
  findRecordsWhere,
  linesOfForm,
  listRecords,
  originsOfRecord,
  placeOf,
  recordAt,
} from '../records/index.ts';
import type { Services } from '../services.ts';
import { isRanked, listedPage, placeInListing, seenView } from '../views/index.ts';

type Asked = Pick<Call<unknown, unknown>, 'params' | 'caller' | 'definitions'>;

/** Who asks, and when. */
const askingOf = ({ definitions, caller }: Pick<Asked, 'definitions' | 'caller'>): Asking =>
  definitions.seen?.asking ?? { account: caller.login ?? '', now: civilNow() };

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

  /** A view that somebody has, by number. Throws 404 for one that is not there, not shared with them, or reads what they do not see. */
  async function viewOf({ definitions, caller, params }: Asked, table: TableId, id: number, answers?: AskedAnswers) {
    const login = caller.login ?? '';
    const view = await seenView(database, definitions, table, login, id, answers);
    if (!view)
      throw new Refusal(
        404,
        say(
          'The view that shows these records is not there, or is not shared with your role. Ask a builder to share it, or to choose another{form}.',
          { form: params.form ? ' for this form' : '' },
        ),
      );
    return { ...view, reader: { asking: askingOf({ definitions, caller }) } };
  }

  route(app, services, routes.recordAt, async (call) => {
    const { params, query, definitions } = call;
    const table = definitions.tables.get(params.table ?? '');
    const position = Number(params.position);
    const find = async (of: TableDefinition): Promise<RecordId | undefined> => {
      if (query.view === undefined) return recordAt(database, definitions.tables, of.id, position);
      const { listing, reader } = await viewOf(call, of.id, query.view, query.asked);
      const page = { at: position - 1, limit: 1 };
      return (await listedPage(database, definitions.tables, of, listing, reader, page)).ids[0];
    };
    const id = table && Number.isSafeInteger(position) && position >= 1 ? await find(table) : undefined;
    if (!table || id === undefined)
      throw notFound(
        say('Record {position} of {label}', { position: params.position ?? '', label: table?.label ?? 'this table' }),
      );
    return { id };
  });

  route(app, services, routes.readRecord, async (call) => {
    const { params, query, definitions } = call;
    const table = params.table ?? '';
    const record = await findRecord(database, definitions.tables, table, Number(params.id));
    const origins = await originsOfRecord(database, definitions.tables, table, record.id);
    const asked = query.view === undefined ? undefined : await viewOf(call, table, query.view, query.asked);
    // In a view of very many records a card tells its place among all records of the table.
    const ranked = asked && (await isRanked(database, definitions.tables, asked.table, asked.listing, asked.reader));
    const view = ranked ? asked : undefined;
    const within =
      view && (await placeInListing(database, definitions.tables, view.table, view.listing, view.reader, record.id));
    const into = record.archived ? await mergedInto(database, definitions.tables, table, record.id) : undefined;
    const opened = {
      ...record,
      ...(into ? { mergedInto: into } : {}),
      origins,
      ...(await mayOf(database, definitions, table, record.id)),
      place: within ?? (await placeOf(database, definitions.tables, table, record.id)),
      ...(view ? { inView: within !== undefined } : {}),
    };
    if (query.form === undefined) return opened;
    const form = await formOf(definitions, query.form, query.version);
    if (form.table.id !== table) throw notFound(say('This form over that table'));
    return form.subforms.size === 0
      ? opened
      : {
          ...opened,
          lines: await linesOfForm(database, form, record.id, { asking: askingOf(call), tables: definitions.tables }),
        };
  });

  route(app, services, routes.formRecords, async (call) => {
    const { params, query, definitions } = call;
    const form = await formOf(definitions, params.form ?? '', query.version);
    const page = { ...query, direction: 'up', search: '', archived: 'no' } as const;
    const wanted = (field: { readonly id: string }) => form.fields.get(field.id)?.factPaths ?? [];
    const { view } = form.definition;
    if (view != null) {
      const { listing, reader } = await viewOf(call, form.table.id, view, query.asked);
      const table = definitions.tables.get(form.table.id) ?? form.table;
      const { ids, after } = await listedPage(database, definitions.tables, table, listing, reader, query);
      const found = await findRecordsWhere(database, definitions.tables, table.id, 'r.id = ANY(?)', [ids], wanted);
      const byId = new Map(found.map((record) => [record.id, record]));
      return { records: ids.flatMap((id) => byId.get(id) ?? []), after };
    }
    const { records, after } = await listRecords(database, definitions.tables, form.table.id, page, wanted);
    return { records, after };
  });
}
