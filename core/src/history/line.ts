import { isBlank, isLinking, linksOne, linksSeveral, type Value } from '../fields/index.ts';
import { type FieldDefinition, type FieldId, type TableId, typeOf } from '../tables/index.ts';

/** Through what a change came: kept in its line and shown with it. Older lines call the form editor `studio`. */
export interface Through {
  readonly kind:
    | 'form'
    | 'table'
    | 'page'
    | 'editor'
    | 'studio'
    | 'tables'
    | 'import'
    | 'change'
    | 'ripple'
    | 'putBack'
    | 'merge'
    | 'seed'
    | 'upgrade';
  readonly label: string;
  readonly version?: number | null;
  /** Why it was done, where a reason is asked for. */
  readonly reason?: string;
  /** What a person said to the ask rules that an entry was against: each rule’s message, and the reason. */
  readonly reasons?: readonly { readonly message: string; readonly reason: string }[];
  /** How somebody came into a public page: `with the code Newsletter`. */
  readonly access?: string;
  /** Set by the database where the owner gave a moment of the past, as for the sample data. */
  readonly backdated?: true;
  /** The import, the change of many, or the task, that a change came with. */
  readonly id?: number;
}

/** One field of a line, in words: `Departure: 17 Aug → 19 Aug`. */
export interface FieldChange {
  readonly field: FieldId;
  readonly label: string;
  readonly before: string;
  readonly after: string;
  /** The value before, as it can be put back; null for blank, and for a column that is no field any more. */
  readonly was: Value;
}

export type LineKind = 'add' | 'change' | 'archive' | 'restore' | 'erase';

/**
 * The changes of a line in words. `before` and `after` hold the captured columns; `titles` names linked records as
 * `table:id`. Blank is the empty text. A column that is no field of `fields` any more shows under its own name.
 */
export function describeChanges(
  fields: readonly FieldDefinition[],
  before: Readonly<Record<string, unknown>> | null,
  after: Readonly<Record<string, unknown>> | null,
  titles: ReadonlyMap<string, string>,
): FieldChange[] {
  const order = new Map(fields.map((field, at) => [field.id, at]));
  const columns = [...new Set([...Object.keys(before ?? {}), ...Object.keys(after ?? {})])]
    .filter((column) => column !== 'archived_at')
    .sort((a, b) => (order.get(a) ?? 999) - (order.get(b) ?? 999));
  return columns.map((column) => {
    const field = fields.find((one) => one.id === column);
    const show = (json: unknown): string => showCaptured(field, json, titles);
    return {
      field: column,
      label: field?.label ?? column,
      before: show(before?.[column]),
      after: show(after?.[column]),
      was:
        field && before?.[column] !== undefined && before[column] !== null
          ? typeOf(field).stored(before[column])
          : null,
    };
  });
}

/** A captured value as PostgreSQL's to_jsonb wrote it, in words; `titles` names linked records as `table:id`. */
export function showCaptured(
  field: FieldDefinition | undefined,
  json: unknown,
  titles: ReadonlyMap<string, string>,
): string {
  if (json === undefined || isBlank(json as Value)) return '';
  if (!field) return plainText(json);
  const titleOf = (id: unknown): string => titles.get(`${field.settings.table}:${id}`) ?? `#${id}`;
  if (linksOne(field)) return titleOf(json);
  if (linksSeveral(field) && Array.isArray(json)) return json.map(titleOf).join(', ');
  // A line of a time when the field had another type shows what was written then.
  const value = typeOf(field).stored(json);
  return typeOf(field).accept(value, field.settings).ok ? typeOf(field).format(value, field.settings) : plainText(json);
}

const plainText = (json: unknown): string => (typeof json === 'object' ? JSON.stringify(json) : String(json));

/** The linked records that a line names: what `describeChanges` wants titles for, as `table:id`. */
export function linksIn(
  fields: readonly FieldDefinition[],
  ...captured: (Readonly<Record<string, unknown>> | null)[]
): { table: TableId; id: number }[] {
  const links = fields.filter((field) => isLinking(field));
  return captured.flatMap((row) =>
    links.flatMap((field) =>
      [row?.[field.id]]
        .flat()
        .flatMap((id) => (typeof id === 'number' ? [{ table: String(field.settings.table), id }] : [])),
    ),
  );
}
