import type { Values } from '../fields/index.ts';
import type { PreparedForm } from '../forms/index.ts';
import type { FieldId } from '../tables/index.ts';
import type { Enclosing, EntryState, LinkedRecord, SubformLines } from './state.ts';

/** The part of a running form that conditions and calculations read; the server builds it without the rest. */
export interface Readable {
  readonly form: PreparedForm;
  readonly account: string | null;
  /** The civil moment that `today` means. */
  readonly now: string;
  readonly values: Values;
  readonly linked: Readonly<Record<string, LinkedRecord>>;
  readonly hidden: Readonly<Record<string, true>>;
  readonly enclosing?: Enclosing;
  readonly lines?: SubformLines;
}

/** True for a hidden field that does not keep its value: it is read and saved as blank. */
export const isExcluded = (entry: Pick<Readable, 'form' | 'hidden'>, field: FieldId): boolean =>
  entry.hidden[field] === true && !entry.form.fields.get(field)?.keepHidden;

/** What conditions read of a running form. */
export const readable = (
  entry: Pick<EntryState, 'form' | 'opening' | 'values' | 'linked' | 'hidden' | 'lines'>,
): Readable => ({
  form: entry.form,
  account: entry.opening.account,
  now: entry.opening.now,
  values: entry.values,
  linked: entry.linked,
  hidden: entry.hidden,
  enclosing: entry.opening.enclosing,
  lines: entry.lines,
});
