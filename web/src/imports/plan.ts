import { fieldType } from '@fiche/core/fields';
import { type ImportColumn, type ImportPlan, matchColumns, matchOn } from '@fiche/core/imports';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import type { Looked } from './useLook.ts';

export interface LinkProposal {
  readonly name: string;
  readonly table: string;
  readonly field: string;
}

/** The plan that a file proposes by itself, into a table that is there or a new one. */
export function proposePlan(
  looked: Looked,
  tables: Tables,
  target: TableDefinition | undefined,
  label: string,
  links: readonly LinkProposal[],
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
    const { type, settings } = link ? { type: 'link', settings: { table: link.table } } : column.guess;
    return {
      ...base,
      to: {
        kind: 'new',
        field: {
          label: column.name.slice(0, 120),
          type,
          settings,
          required,
          unique: false,
          help: '',
          initial: null,
          calculation: null,
          narrowing: null,
        },
      },
      matchOn: link?.field ?? null,
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

/** The same column as a field of another type. */
export function withType(column: ImportColumn, type: string, words: readonly string[]): ImportColumn {
  if (column.to.kind !== 'new') return column;
  const settings = ['choice', 'choices'].includes(type)
    ? { choices: words.slice(0, 200) }
    : type === 'decimal'
      ? { places: 2 }
      : {};
  return {
    ...column,
    matchOn: null,
    to: { kind: 'new', field: { ...column.to.field, type, settings: fieldType(type).settingsSchema.parse(settings) } },
  };
}
