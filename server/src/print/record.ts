import type { PastRecord } from '@fiche/core/api';
import { openEntry } from '@fiche/core/entry';
import type { DefinedForm } from '@fiche/core/forms';
import { stampWords } from '@fiche/core/history';
import { say } from '@fiche/core/languages';
import { type PrintedBlock, type PrintedCard, printedSections } from '@fiche/core/print';
import type { Asking } from '@fiche/core/rights';
import type { RecordId, TableId } from '@fiche/core/tables';
import { hasRight } from '../access/index.ts';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { findForm, prepared, tableForm } from '../forms/index.ts';
import { notFound } from '../http/index.ts';
import { recordAsOf } from '../past/index.ts';
import { findRecord, linesOfForm, originsOfRecord } from '../records/index.ts';
import { momentWords } from './momentWords.ts';

interface PrintedRecord {
  readonly table: TableId;
  readonly id: RecordId;
  /** The form that lays it out; the table’s own card without. */
  readonly form: string | undefined;
}

/** The form that lays a record out: as published, or as drafted for who builds. Throws 404. */
function layoutOf(definitions: Definitions, { table, form }: PrintedRecord): DefinedForm {
  if (form === undefined) return tableForm(definitions, table);
  const row = findForm(definitions, form);
  const definition = row.live ?? (hasRight(definitions, 'build') ? row.draft : undefined);
  if (!definition || definition.table !== table) throw notFound(say('This form over that table'));
  return definition;
}

/** A record as it is now, ready to be printed, with the lines and reference cards of its form. Throws 404. */
export async function printedRecord(
  database: Database,
  definitions: Definitions,
  wanted: PrintedRecord,
  asking: Asking,
): Promise<PrintedCard> {
  const { tables } = definitions;
  const definition = layoutOf(definitions, wanted);
  const form = prepared(definitions, definition);
  const paths = (field: { readonly id: string }) => form.fields.get(field.id)?.factPaths ?? [];
  const record = await findRecord(database, tables, wanted.table, wanted.id, paths);
  const origins = await originsOfRecord(database, tables, wanted.table, record.id);
  const lines = form.subforms.size === 0 ? undefined : await linesOfForm(database, form, record.id, { asking, tables });
  const { state } = openEntry(form, {
    account: asking.account,
    now: asking.now,
    record: { ...record, origins },
    lines,
  });
  const { stamp } = record;
  return {
    title: record.title,
    of: record.archived ? `${definition.label} · archived` : definition.label,
    sections: printedSections(state),
    stamp: definition.showStamp ? stampWords(stamp) : '',
    asOf: '',
  };
}

/** A record as it stood at a moment, ready to be printed. Throws 404, also where it was not there yet. */
export async function printedAsOf(
  database: Database,
  definitions: Definitions,
  wanted: PrintedRecord,
  at: string,
): Promise<PrintedCard> {
  const { record } = await recordAsOf(database, definitions, { ...wanted, at });
  if (!record) throw notFound(say('This record was not there yet; it'));
  const { created, changed } = record;
  return {
    title: record.title,
    of: record.archived ? `${record.table} · archived` : record.table,
    sections: [{ label: '', columns: 3, blocks: blocksOf(record) }],
    stamp: stampWords({
      createdAt: created.at,
      createdBy: created.by,
      changedAt: changed.at,
      changedBy: changed.by,
    }),
    asOf: at === 'now' ? '' : momentWords(at),
  };
}

const blocksOf = ({ values, cards, lines }: PastRecord): PrintedBlock[] => [
  ...values.map(({ label, value }) => ({ kind: 'field' as const, label, value, wide: value.length > 80 })),
  ...cards.map(({ label, title, values: facts }) => ({ kind: 'card' as const, label, title, facts })),
  ...lines.map(({ label, rows }) => ({
    kind: 'lines' as const,
    label,
    columns: (rows[0]?.values ?? []).map((one) => ({ label: one.label, numeric: one.numeric })),
    rows: rows.map((row) => row.values.map((one) => one.value)),
  })),
];
