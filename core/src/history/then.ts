import { isFieldType, type Settings } from '../fields/index.ts';
import {
  type FieldDefinition,
  type TableDefinition,
  type TableId,
  type Tables,
  titleWithin,
  typeOf,
} from '../tables/index.ts';
import { columnsAfter } from './replay.ts';

/** A line of the ledger about the definition of a table or of a field, with its captured columns. */
export interface DefinitionLine {
  readonly place: 'fiche.table' | 'fiche.field';
  /** The id of the table, with that of the field behind a dot. */
  readonly record: string;
  readonly before: Readonly<Record<string, unknown>> | null;
  readonly after: Readonly<Record<string, unknown>> | null;
}

/** How a table was defined at some moment. */
export interface TableThen {
  readonly label: string;
  readonly title: string | null;
  /** Its fields that were in use then, in today’s order; those that are no fields any more at their end. */
  readonly fields: readonly FieldDefinition[];
}

type Columns = Readonly<Record<string, unknown>>;

/** What the lines of one definition add up to. */
const addUp = (lines: readonly DefinitionLine[]): Columns =>
  Object.fromEntries(
    lines.reduce((state, { before, after }) => columnsAfter(state, before, after), new Map<string, unknown>()),
  );

const fieldThen = (id: string, columns: Columns, today: FieldDefinition | undefined): FieldDefinition | undefined => {
  const type = String(columns.type ?? today?.type ?? '');
  if (!isFieldType(type)) return undefined;
  return {
    id,
    label: String(columns.label ?? today?.label ?? id),
    type,
    settings: (columns.settings ?? {}) as Settings,
    required: columns.required === true,
    unique: columns.unique === true,
    help: '',
    initial: null,
    calculation: typeof columns.calculation === 'string' ? columns.calculation : null,
    narrowing: null,
  };
};

/**
 * How tables were defined at a moment, from all lines about their definitions up to then, oldest first. A table or field without
 * any line is older than its lines are kept: it counts as today. A table that was made later is not there.
 */
export function tablesThen(
  tables: Tables,
  lines: readonly DefinitionLine[],
  /** The records that have a line at any time. */
  known: ReadonlySet<string>,
): Map<TableId, TableThen> {
  const byRecord = new Map<string, DefinitionLine[]>();
  for (const line of lines) {
    const key = `${line.place} ${line.record}`;
    byRecord.set(key, [...(byRecord.get(key) ?? []), line]);
  }
  const then = new Map<TableId, TableThen>();
  for (const table of tables.values()) {
    const own = byRecord.get(`fiche.table ${table.id}`);
    if (!own && known.has(`fiche.table ${table.id}`)) continue;
    const columns = own ? addUp(own) : { label: table.label, title: table.title };
    const fields = [...table.fields, ...table.retired].flatMap((field): FieldDefinition[] => {
      const record = `${table.id}.${field.id}`;
      const said = byRecord.get(`fiche.field ${record}`);
      if (!said) return known.has(`fiche.field ${record}`) || table.retired.includes(field) ? [] : [field];
      const state = addUp(said);
      const made = fieldThen(field.id, state, field);
      return made && (state.retired_at ?? null) === null ? [made] : [];
    });
    then.set(table.id, {
      label: String(columns.label ?? table.label),
      title: typeof columns.title === 'string' ? columns.title : null,
      fields,
    });
  }
  return then;
}

/**
 * A table as it was defined then, as somebody sees it today: of the fields of then those that `seen` has, or had before they were
 * retired. Its rules and what its saves set off are not told.
 */
export function tableThen(seen: TableDefinition, then: TableThen): TableDefinition {
  const ids = new Set([...seen.fields, ...seen.retired].map((field) => field.id));
  const fields = then.fields.filter((field) => ids.has(field.id));
  return {
    ...seen,
    label: then.label,
    title: titleWithin(then.title, (name) => fields.some((field) => field.id === name)),
    fields,
    retired: [],
    card: seen.card.filter((path) => fields.some((field) => field.id === path.split('.')[0])),
    rules: [],
    constraints: [],
    ripples: [],
  };
}

/** Whether a field had the same kind of column then as now, so that its values of then can be read as today’s. */
export const sameColumn = (then: FieldDefinition, today: FieldDefinition): boolean =>
  typeOf(then).column(then.settings) === typeOf(today).column(today.settings);
