import { fieldType, isOfWords } from '@fiche/core/fields';
import { type ImportColumn, type ImportPlan, matchColumns, matchOn } from '@fiche/core/imports';
import { currentOffice } from '@fiche/core/office';
import type { FieldId, TableDefinition, TableId, Tables } from '@fiche/core/tables';
import type { Looked } from './useLook.ts';

interface LinkProposal {
  readonly name: string;
  readonly table: TableId;
  readonly field: FieldId;
}

/** A column that carries the words of a level of an option list. */
interface LevelProposal {
  readonly name: string;
  readonly table: TableId;
  readonly column: string;
}

/** What the server found out about the columns of a file. */
export interface Proposals {
  readonly links: readonly LinkProposal[];
  readonly levels: readonly LevelProposal[];
}

export const NO_PROPOSALS: Proposals = { links: [], levels: [] };

const newField = (name: string, type: string, settings: Readonly<Record<string, unknown>>, required: boolean) => ({
  label: name.slice(0, 120),
  type,
  settings,
  required,
  unique: false,
  help: '',
  initial: null,
  calculation: null,
  narrowing: null,
});

/** The plan that a file proposes by itself, into a table that is there or a new one. */
export function proposePlan(
  looked: Looked,
  tables: Tables,
  target: TableDefinition | undefined,
  label: string,
  { links, levels }: Proposals,
): ImportPlan {
  const matched = target
    ? matchColumns(
        looked.columns.map((column) => ({ name: column.name, cells: column.samples, guess: column.guess })),
        target,
      )
    : [];
  const columns = looked.columns.map((column, at): ImportColumn => {
    const { dates, decimal, required } = column.guess;
    const base = { name: column.name, at: column.at, dates, decimal };
    if (target) {
      const field = matched[at];
      return field
        ? { ...base, to: { kind: 'field', field: field.id }, matchOn: matchOn(tables, field) }
        : { ...base, to: { kind: 'nowhere' }, matchOn: null };
    }
    if (/^reason$/i.test(column.name)) return { ...base, to: { kind: 'nowhere' }, matchOn: null };
    const link = links.find((one) => one.name === column.name);
    const level = levels.find((one) => one.name === column.name);
    const { type, settings } = level
      ? { type: 'choice', settings: { choices: [], level: { table: level.table, column: level.column } } }
      : link
        ? { type: 'link', settings: { table: link.table } }
        : column.guess;
    return {
      ...base,
      to: {
        kind: 'new',
        field: newField(column.name, type, settings, required),
      },
      matchOn: level ? null : (link?.field ?? null),
    };
  });
  const unique = target?.fields.find(
    (field) => field.unique && columns.some((column) => column.to.kind === 'field' && column.to.field === field.id),
  );
  return {
    reading: looked.reading,
    into: target ? { kind: 'table', table: target.id } : { kind: 'new', label },
    columns,
    key: unique ? [unique.id] : [],
    found: 'change',
    missing: 'add',
    reason: null,
    form: null,
  };
}

/**
 * The same column with another decimal mark. What a new field is follows, as far as `words` of its cells show: `1,234` is a
 * whole number with a decimal point, and one of three decimal places with a comma.
 */
export function withDecimal(
  column: ImportColumn,
  decimal: ImportColumn['decimal'],
  words: readonly string[],
): ImportColumn {
  const { to } = column;
  if (to.kind !== 'new' || !['wholeNumber', 'decimal'].includes(to.field.type)) return { ...column, decimal };
  const places = Math.max(
    0,
    ...words.map((word) => new RegExp(`\\${decimal}(\\d+)\\D*$`).exec(word)?.[1]?.length ?? 0),
  );
  const type = places > 0 ? 'decimal' : 'wholeNumber';
  const settings = fieldType(type).settingsSchema.parse(places > 0 ? { places: Math.min(6, places) } : {});
  return { ...column, decimal, to: { kind: 'new', field: { ...to.field, type, settings } } };
}

/** The same column as a new text field, where it is none yet. */
export function asNew(column: ImportColumn): ImportColumn {
  if (column.to.kind === 'new') return column;
  return { ...column, to: { kind: 'new', field: newField(column.name, 'text', {}, false) } };
}

/** The same column as a link to a table, whose records are found by their title. */
export function asLink(column: ImportColumn, target: TableDefinition): ImportColumn {
  if (column.to.kind !== 'new') return column;
  const title = target.fields.find((one) => one.id === target.title) ?? target.fields[0];
  const field = { ...column.to.field, type: 'link', settings: { table: target.id } };
  return { ...column, matchOn: title?.id ?? null, to: { kind: 'new', field } };
}

/** The same column as a level of an option list. */
export function asLevel(column: ImportColumn, level: Omit<LevelProposal, 'name'>): ImportColumn {
  if (column.to.kind !== 'new') return column;
  const settings = { choices: [], level: { table: level.table, column: level.column } };
  return { ...column, matchOn: null, to: { kind: 'new', field: { ...column.to.field, type: 'choice', settings } } };
}

/** The same column as a field of another type. */
export function withType(column: ImportColumn, type: string, words: readonly string[]): ImportColumn {
  if (column.to.kind !== 'new') return column;
  const starting = fieldType(type).starting?.(currentOffice().currency);
  const settings = isOfWords({ type }) ? { ...starting, choices: words.slice(0, 200) } : (starting ?? {});
  return {
    ...column,
    matchOn: null,
    to: { kind: 'new', field: { ...column.to.field, type, settings: fieldType(type).settingsSchema.parse(settings) } },
  };
}
