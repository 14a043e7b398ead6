import type { LineView } from '@fiche/core/api';
import { type ChangeOfMany, describeChange, recordsNamed } from '@fiche/core/changes';
import { describeChanges, type FieldChange, type LineKind, linksIn, type Through } from '@fiche/core/history';
import { say, sayLater } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { quoted, relation } from '@fiche/core/queries';
import { rightToHistory } from '@fiche/core/rights';
import { findField, type TableDefinition, type TableId, type Tables } from '@fiche/core/tables';
import { callersLimit } from '../access/index.ts';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound } from '../http/index.ts';
import { titlesOf } from '../records/index.ts';
import { namedInDefinition, namesOfNumbers } from './definitionNames.ts';
import { definitionNamed, describeDefinition } from './definitionWords.ts';
import { type LedgerQuery, ledgerWhere } from './ledgerWhere.ts';
import { rippledBy } from './rippled.ts';
import { hiddenFields, wasErased, withoutEmpty, withoutHidden } from './visible.ts';

/** A line of the ledger as it is read from the database. */
export interface LineRow {
  id: number;
  at: string;
  account: string;
  through: Through | null;
  transaction: number;
  place: string;
  record: string;
  kind: LineKind;
  before: Record<string, unknown> | null;
  after: Record<string, unknown> | null;
}

/** The columns of `LineRow`. */
export const LINE_COLUMNS = `id, at, account, CASE WHEN reasons IS NULL THEN through ELSE (through::jsonb || jsonb_build_object('reasons', reasons))::json END AS through,
  transaction, place, record, kind, before, after, digest IS NOT NULL AND salt IS NULL AS erased`;

/** So many lines of a record's history are read at a time. */
const PAGE = 200;

/** A table whose records belong to another as its lines, with the field that links there. */
interface LinesOf {
  readonly table: TableId;
  readonly link: string;
}

/**
 * A page of the lines of one record and of the records that belong to it as lines of a form, newest first: those before
 * the line `before`, or the newest. The returned `before` asks for the next page; null after the last.
 */
export async function recordLines(
  app: Database,
  definitions: Definitions,
  table: TableId,
  id: number,
  { subforms = [], before }: { readonly subforms?: readonly LinesOf[]; readonly before?: number } = {},
): Promise<{ lines: LineView[]; before: number | null }> {
  const { tables } = definitions;
  const definition = tables.get(table);
  if (!definition) throw notFound(say('This table'));
  const limit = callersLimit(definitions, definition, 'r', ({ role }) => rightToHistory(role, definition)) ?? 'TRUE';
  // A record's lines lie between its first and its last moment: other months are not looked at.
  const { rows: spans } = await app.raw<{ rows: { first: string; last: string }[] }>(
    `SELECT r.created_at::text AS first, r.changed_at::text AS last FROM ${relation(table)} r WHERE r.id = ? AND ${limit}`,
    [id],
  );
  // Of what was erased the role reads that reads all histories.
  if (!spans[0] && !(await wasErased(app, definitions, table, id)))
    throw notFound(say('This record of {label}', { label: definition.label }));
  const { first, last } = spans[0] ?? { first: '-infinity', last: 'infinity' };
  const page = `${before === undefined ? '' : `AND id < ${Number(before)} `}ORDER BY id DESC LIMIT ${PAGE + 1}`;
  const { rows } = await app.raw<{ rows: LineRow[] }>(
    `SELECT ${LINE_COLUMNS} FROM ledger.line WHERE place = ? AND record = ? AND at BETWEEN ?::timestamptz AND ?::timestamptz ${page}`,
    [`data.${table}`, String(id), first, last],
  );
  for (const { table: of, link } of subforms) {
    const lines = tables.get(of);
    if (!findField(lines, link) || !lines) continue;
    const limited = callersLimit(definitions, lines, 'r', ({ role }) => rightToHistory(role, lines)) ?? 'TRUE';
    const { rows: belonging } = await app.raw<{ rows: LineRow[] }>(
      `SELECT ${LINE_COLUMNS} FROM ledger.line WHERE place = ? AND at >= ?::timestamptz
         AND record IN (SELECT r.id::text FROM ${relation(of)} r WHERE r.${quoted(link)} = ? AND ${limited}) ${page}`,
      [`data.${of}`, first, id],
    );
    rows.push(...belonging);
  }
  rows.sort((a, b) => b.id - a.id);
  const shown = rows.slice(0, PAGE);
  const told = withoutEmpty(await inWords(app, definitions, shown), definitions);
  const lines = withoutLinks(told, table, subforms);
  return { lines, before: rows.length > PAGE ? (shown.at(-1)?.id ?? null) : null };
}

/** All lines of one record, newest first. */
export async function allRecordLines(
  app: Database,
  definitions: Definitions,
  table: TableId,
  id: number,
): Promise<LineView[]> {
  const all: LineView[] = [];
  for (let before: number | null | undefined; before !== null; ) {
    const page: Awaited<ReturnType<typeof recordLines>> = await recordLines(app, definitions, table, id, { before });
    all.push(...page.lines);
    before = page.before;
  }
  return all;
}

/** The lines without the link of a new line to its record, which goes without saying. */
const withoutLinks = (lines: readonly LineView[], table: TableId, subforms: readonly LinesOf[]): LineView[] =>
  lines.map((line) =>
    line.kind === 'add' && line.table !== table
      ? {
          ...line,
          changes: line.changes.filter(
            (change) => !subforms.some((one) => one.table === line.table && one.link === change.field),
          ),
        }
      : line,
  );

/** A page of a cabinet's ledger, newest first: lines of its records and of its definitions. */
export async function ledgerLines(app: Database, definitions: Definitions, cabinet: string, query: LedgerQuery) {
  const { where, values } = ledgerWhere(definitions, cabinet, query);
  const { rows } = await app.raw<{ rows: LineRow[] }>(
    `SELECT ${LINE_COLUMNS} FROM ledger.line WHERE ${where} ORDER BY id DESC LIMIT ?`,
    [...values, query.limit + 1] as string[],
  );
  const page = rows.slice(0, query.limit);
  return {
    lines: withoutEmpty(await inWords(app, definitions, page), definitions),
    before: rows.length > query.limit ? (page.at(-1)?.id ?? null) : null,
  };
}

/** Lines as people read them: records by their titles, changes in words, without what the caller does not see. */
export async function inWords(app: Database, definitions: Definitions, all: readonly LineRow[]): Promise<LineView[]> {
  const { tables } = definitions;
  const rows = all.map((row) => {
    const table = tableOf(tables, row);
    const hidden = table ? hiddenFields(definitions, table) : [];
    return { ...row, before: withoutHidden(row.before, hidden), after: withoutHidden(row.after, hidden) };
  });
  const numbered = await namesOfNumbers(app, definitions, rows);
  const wanted = rows.flatMap((row) => {
    const table = tableOf(tables, row);
    if (row.place === 'fiche.change') return recordsNamedIn(row, tables);
    if (!table) return namedInDefinition(row, tables, numbered.views);
    return [
      { table: table.id, id: Number(row.record) },
      ...linksIn([...table.fields, ...table.retired], row.before, row.after),
    ];
  });
  const rippled = await rippledBy(app, tables, rows);
  const titles = await titlesOf(app, tables, [...wanted, ...rippled.named]);
  return rows.map((row) => {
    const table = tableOf(tables, row);
    const named = table
      ? { what: table.label, title: titles.get(`${table.id}:${row.record}`) ?? `#${row.record}` }
      : definitionNamed(definitions, row, numbered.names);
    return {
      id: row.id,
      at: row.at,
      account: row.account,
      through: throughWords(row.through),
      reasons: reasonsSaid(row.through),
      transaction: row.transaction,
      import: row.place === 'fiche.import' ? Number(row.record) : null,
      change:
        row.place === 'fiche.change' ? { id: Number(row.record), table: String(row.after?.table_id ?? '') } : null,
      table: table?.id ?? null,
      record: row.record,
      ...named,
      kind: kindOf(row),
      follows: row.through?.kind === 'ripple' ? rippled.followedBy(row, titles) : null,
      wrote: rippled.writtenFor(row, titles),
      changes:
        row.place === 'fiche.import'
          ? importWords(row)
          : row.place === 'fiche.change'
            ? changeWords(row, tables, titles)
            : table
              ? describeChanges([...table.fields, ...table.retired], row.before, row.after, titles)
              : describeDefinition(row, tables, titles, numbered.views),
    };
  });
}

/** What was done: archiving a form, a table or a cabinet is kept as a change of its one column. */
function kindOf({ kind, before, after }: LineRow): LineKind {
  const changed = Object.keys({ ...before, ...after });
  if (kind !== 'change' || changed.join() !== 'archived_at') return kind;
  return after?.archived_at == null ? 'restore' : 'archive';
}

const IMPORTED = {
  add: sayLater('{count} added'),
  change: sayLater('{count} changed'),
  skip: sayLater('{count} skipped'),
  bad: sayLater('{count} not imported'),
} as const;

/** What an import did, from the counts that were kept with it. */
function importWords({ through, after }: LineRow): FieldChange[] {
  const counts = (after?.counts ?? null) as Record<string, number> | null;
  if (!through || !counts) return [];
  const said = (['add', 'change', 'skip', 'bad'] as const).flatMap((kind) => {
    const words = IMPORTED[kind];
    const n = counts[kind] ?? 0;
    return n > 0 ? [say(words, { count: formatCount(n) })] : [];
  });
  return [{ field: 'counts', label: say('Records'), before: '', after: said.join(', '), was: null }];
}

/** What a line says of a change of many: the plan, or the change that was put back. */
const planned = ({ after }: LineRow): ChangeOfMany | undefined =>
  (after?.what as { what?: ChangeOfMany } | undefined)?.what;

function recordsNamedIn(row: LineRow, tables: Tables): { table: TableId; id: number }[] {
  const [table, what] = [tables.get(String(row.after?.table_id)), planned(row)];
  return table && what ? recordsNamed(what, table) : [];
}

/** What a change of many did, and to how many records. */
function changeWords(row: LineRow, tables: Tables, titles: ReadonlyMap<string, string>): FieldChange[] {
  const [table, what] = [tables.get(String(row.after?.table_id)), planned(row)];
  const { change = 0, refused = 0 } = (row.after?.counts ?? {}) as { change?: number; refused?: number };
  const words = table && what ? describeChange(what, table, tables, titles) : say('put back as before');
  const changed = say('{count} changed', { count: formatCount(change) });
  const left = refused > 0 ? [say('{refused} left as they are', { refused: formatCount(refused) })] : [];
  return [
    { field: 'what', label: say('Change'), before: '', after: words, was: null },
    { field: 'counts', label: say('Records'), before: '', after: [changed, ...left].join(', '), was: null },
  ];
}

const tableOf = (tables: Tables, row: LineRow): TableDefinition | undefined =>
  row.place.startsWith('data.') ? tables.get(row.place.slice(5)) : undefined;

function throughWords(through: Through | null): string {
  if (!through) return say('direct database session');
  const labelled = through.version
    ? say('{label}, version {version}', { label: through.label, version: through.version })
    : through.label;
  const kinds: Record<Through['kind'], string> = {
    form: labelled,
    page: [say('{label}, public page', { label: labelled }), through.access].filter(Boolean).join(' '),
    table: say('{label}, table', { label: through.label }),
    import: say('Import of {label}', { label: through.label }),
    change: say('{label}, change of many', { label: through.label }),
    ripple: say('Ripple {label}', { label: through.label }),
    putBack: say('Put back: {label}', { label: through.label }),
    merge: say('Merge of {label}', { label: through.label }),
    editor: say('Form editor, {label}', { label: through.label }),
    studio: say('Form editor, {label}', { label: through.label }),
    // Of what is not a record the place is named, by a text of ours.
    tables: say(through.label),
    seed: through.label,
    upgrade: say('Upgrade of Fiche, {label}', { label: through.label }),
  };
  return kinds[through.kind];
}

/** What was said when a rule asked, a record was erased, an answer released: a sentence each. */
function reasonsSaid(through: Through | null): string[] {
  const asked = (through?.reasons ?? []).map((one) =>
    say('“{message}” accepted with reason: {reason}', { message: one.message, reason: one.reason }),
  );
  if (!through?.reason) return asked;
  return [through.kind === 'page' ? through.reason : say('Reason: {reason}', { reason: through.reason }), ...asked];
}
