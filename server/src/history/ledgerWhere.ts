import { fieldType } from '@fiche/core/fields';
import type { LineKind } from '@fiche/core/history';
import { relation } from '@fiche/core/queries';
import { rightTo, rightToHistory } from '@fiche/core/rights';
import type { FieldId, IdOfForm, TableDefinition, TableId } from '@fiche/core/tables';
import { callersLimit } from '../access/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { hiddenFields } from './visible.ts';

/** Which lines of a ledger are wanted. */
export interface LedgerQuery {
  readonly account?: string;
  readonly table?: TableId;
  /** A record of that table, by number. */
  readonly record?: number;
  readonly kind?: LineKind;
  readonly field?: FieldId;
  /** What stands in a value, before or after. */
  readonly value?: string;
  /** The form, or its public page, that it came through. */
  readonly form?: IdOfForm;
  /** Days, both included. */
  readonly from?: string;
  readonly to?: string;
  /** The time of day, in the office’s time zone. */
  readonly hours?: 'day' | 'night' | 'weekend';
  /** Only what a rule asked about, and a reason let through. */
  readonly asked?: 'yes';
  /** The records of one import; without it, an import is one line. */
  readonly import?: number;
  /** The records of one change of many; without it, such a change is one line. */
  readonly change?: number;
  readonly before?: number;
  readonly limit: number;
}

/** Conditions over `ledger.line` joined by AND, with their values in order. */
export interface Where {
  readonly where: string;
  readonly values: readonly unknown[];
}

/** The cabinet of a line about a membership: what stands after the last dot, as logins have dots too. */
const CABINET_OF_MEMBER = `substring(record FROM '[^.]*$')`;

/** What belongs to tables, also what was deleted: the line that added it names its table. */
const addedTo = (place: string): string =>
  `(place = '${place}' AND record IN (SELECT a.record FROM ledger.line a WHERE a.place = '${place}' AND a.kind = 'add' AND a.after->>'table_id' = ANY(?)))`;

/** Night, as far as work in an office goes: from 22 to 6 o’clock. */
const HOURS = {
  day: 'extract(hour FROM l.local) BETWEEN 6 AND 21',
  night: '(extract(hour FROM l.local) >= 22 OR extract(hour FROM l.local) < 6)',
  weekend: 'extract(isodow FROM l.local) >= 6',
} as const;

/** The lines of a cabinet that a query wants, as far as the caller sees them. */
export function ledgerWhere(definitions: Definitions, cabinet: string, query: LedgerQuery): Where {
  const tables = [...definitions.tables.values()].filter(
    (one) => one.cabinet === cabinet && (query.table ?? one.id) === one.id,
  );
  const parts = [
    // First, and cheapest: it passes over what an import or a change of many has written, which may be most of the lines.
    together(definitions, query),
    ofCabinet(definitions, cabinet, tables, query),
    ...tables.flatMap((table) => withinRights(definitions, table)),
    ...narrowed(definitions, tables, query),
  ];
  return { where: parts.map((one) => one.where).join(' AND '), values: parts.flatMap((one) => one.values) };
}

/** The lines of a cabinet’s records whose histories the caller reads, without those that an import or a change of many has written. */
export function historiesWhere(definitions: Definitions, cabinet: string): Where {
  const { seen } = definitions;
  const tables = [...definitions.tables.values()].filter(
    (one) => one.cabinet === cabinet && (!seen || rightToHistory(seen.role, one) !== 'no'),
  );
  const parts = [
    together(definitions, { limit: 0 }),
    { where: 'place = ANY(?)', values: [tables.map((one) => `data.${one.id}`)] },
    ...tables.flatMap((table) => withinRights(definitions, table, rightToHistory)),
  ];
  return { where: parts.map((one) => one.where).join(' AND '), values: parts.flatMap((one) => one.values) };
}

/** Whether somebody sees all that there is: then views and changes of many, which name values, are told as such. */
const seesWhole = ({ tables, seen }: Definitions): boolean => tables === seen?.whole.tables;

/** Lines of records and definitions of the cabinet, or of one table. */
function ofCabinet(
  definitions: Definitions,
  cabinet: string,
  tables: readonly TableDefinition[],
  query: LedgerQuery,
): Where {
  const ids = tables.map((one) => one.id);
  const forms = [...definitions.forms.values()]
    .filter((one) => one.cabinet === cabinet && ids.includes(one.table))
    .map((one) => one.id);
  const whole = seesWhole(definitions);
  const places: Where[] = [
    { where: 'place = ANY(?)', values: [ids.map((id) => `data.${id}`)] },
    { where: `(place = 'fiche.table' AND record = ANY(?))`, values: [ids] },
    { where: `(place = 'fiche.field' AND split_part(record, '.', 1) = ANY(?))`, values: [ids] },
    { where: `(place = 'fiche.form' AND record = ANY(?))`, values: [forms] },
    ...(whole
      ? ['fiche.view', 'fiche.calendar_address'].map((place) => ({ where: addedTo(place), values: [ids] }))
      : []),
    { where: addedTo('fiche.label_layout'), values: [ids] },
    { where: `place = 'fiche.office'`, values: [] },
    { where: `(place = 'fiche.import' AND kind = 'change' AND after->>'table_id' = ANY(?))`, values: [ids] },
    ...(whole ? [{ where: `(place = 'fiche.change' AND after->>'table_id' = ANY(?))`, values: [ids] }] : []),
    ...(query.table === undefined ? ofPeople(cabinet) : []),
  ];
  return { where: `(${places.map((one) => one.where).join(' OR ')})`, values: places.flatMap((one) => one.values) };
}

/** Lines of the cabinet itself, its roles and its people. */
const ofPeople = (cabinet: string): Where[] => [
  { where: `(place = 'fiche.membership' AND ${CABINET_OF_MEMBER} = ?)`, values: [cabinet] },
  { where: `(place IN ('fiche.cabinet', 'fiche.receipt_mail') AND record = ?)`, values: [cabinet] },
  {
    where: `(place = 'fiche.role' AND (record NOT LIKE '%.%' OR split_part(record, '.', 1) = ?))`,
    values: [cabinet],
  },
  {
    where: `(place = 'fiche.seen_as' AND record IN (SELECT id::text FROM fiche.seen_as WHERE cabinet = ?))`,
    values: [cabinet],
  },
  {
    where: `(place = 'fiche.token' AND record IN (SELECT id::text FROM fiche.token WHERE cabinet = ?))`,
    values: [cabinet],
  },
  {
    where: `(place IN ('fiche.account', 'fiche.password_link', 'fiche.second_factor') AND record IN (SELECT left(record, -1 - length(${CABINET_OF_MEMBER})) FROM ledger.line WHERE place = 'fiche.membership' AND ${CABINET_OF_MEMBER} = ?))`,
    values: [cabinet],
  },
];

const rightToSee: typeof rightToHistory = (role, table) => rightTo(role, 'see', table);

/** Without lines of the records that the caller has no such right to, and of the fields that the caller does not see. */
function withinRights(definitions: Definitions, table: TableDefinition, right = rightToSee): Where[] {
  const limit = callersLimit(definitions, table, 'r', ({ role }) => right(role, table));
  const hidden = hiddenFields(definitions, table);
  return [
    ...(limit === null
      ? []
      : [
          {
            where: `NOT (place = 'data.${table.id}' AND record NOT IN (SELECT r.id::text FROM ${relation(table.id)} r WHERE ${limit}))`,
            values: [],
          },
        ]),
    ...(hidden.length === 0
      ? []
      : [
          {
            where: `NOT (place = 'fiche.field' AND record = ANY(?))`,
            values: [hidden.map((field) => `${table.id}.${field}`)],
          },
        ]),
  ];
}

/** The records of one import or change of many; or everything with such as one line. */
function together(definitions: Definitions, query: LedgerQuery): Where {
  const [kind] = (['import', 'change'] as const).filter((one) => query[one] !== undefined);
  if (kind === undefined)
    return {
      where: `NOT (place NOT IN ('fiche.import', 'fiche.change') AND through IS NOT NULL AND through->>'kind' ${seesWhole(definitions) ? "IN ('import', 'change')" : "= 'import'"} AND through->>'id' IS NOT NULL)`,
      values: [],
    };
  const one = `place LIKE 'data.%' AND through->>'kind' = ? AND (through->>'id')::bigint = ?`;
  return kind === 'import'
    ? { where: one, values: [kind, query.import] }
    : {
        where: `${one} AND transaction = (SELECT c.transaction FROM fiche.change c WHERE c.id = ?)`,
        values: [kind, query.change, query.change],
      };
}

/** What the query asks for besides. */
function narrowed(definitions: Definitions, tables: readonly TableDefinition[], query: LedgerQuery): Where[] {
  const { timeZone } = definitions.office;
  const parts: Where[] = [];
  const add = (where: string, ...values: unknown[]): void => {
    parts.push({ where, values });
  };
  if (query.account !== undefined) add('account = ?', query.account);
  if (query.kind !== undefined) add('kind = ?', query.kind);
  if (query.table !== undefined && query.record !== undefined)
    add('place = ? AND record = ?', `data.${query.table}`, String(query.record));
  if (query.field !== undefined) {
    if (tables.every((table) => hiddenFields(definitions, table).includes(query.field ?? ''))) add('FALSE');
    add('(jsonb_exists(before::jsonb, ?) OR jsonb_exists(after::jsonb, ?))', query.field, query.field);
  }
  if (query.value !== undefined) parts.push(holding(definitions, tables, query.value, query.field));
  if (query.form !== undefined) {
    const form = definitions.forms.get(query.form);
    add(`through->>'kind' IN ('form', 'page') AND through->>'label' = ?`, (form?.live ?? form?.draft)?.label ?? '');
  }
  if (query.hours !== undefined)
    add(`(SELECT ${HOURS[query.hours]} FROM (SELECT at AT TIME ZONE ? AS local) l)`, timeZone);
  if (query.asked !== undefined) add('reasons IS NOT NULL');
  if (query.from !== undefined) add('at >= ?::timestamp AT TIME ZONE ?', query.from, timeZone);
  if (query.to !== undefined) add('at < (?::date + 1)::timestamp AT TIME ZONE ?', query.to, timeZone);
  if (query.before !== undefined) add('id < ?', query.before);
  return parts;
}

/** Lines in which a text stands in a value before or after, in a field that the caller sees; a day is found as it is kept. */
function holding(
  definitions: Definitions,
  tables: readonly TableDefinition[],
  text: string,
  field: FieldId | undefined,
): Where {
  const hidden = tables.flatMap((table) => hiddenFields(definitions, table).map((id) => `data.${table.id}.${id}`));
  const day = fieldType('date').parse(text, {});
  const like = (words: string): string => `%${words.replace(/[\\%_]/g, (one) => `\\${one}`)}%`;
  const words = [like(text), ...(day.ok && typeof day.value === 'string' ? [like(day.value)] : [])];
  return {
    where: `EXISTS (SELECT FROM (SELECT * FROM json_each_text(before) UNION ALL SELECT * FROM json_each_text(after)) v(name, said)
      WHERE v.said ILIKE ANY(?) AND NOT (place || '.' || v.name = ANY(?))${field === undefined ? '' : ' AND v.name = ?'})`,
    values: [words, hidden, ...(field === undefined ? [] : [field])],
  };
}
