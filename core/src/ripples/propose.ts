import type { FieldDefinition, RippleSource, RippleValue, TableDefinition, Tables } from '../tables/index.ts';
import { eventTable } from './event.ts';
import { sourceOf } from './source.ts';

/** Why a source cannot give a field of the target what it holds, in words; undefined where it can. */
export function sourceMisfit(
  value: RippleValue,
  table: TableDefinition,
  target: TableDefinition,
  tables: Tables,
): string | undefined {
  let misfit: string | undefined;
  const source = eventTable(table);
  sourceOf(value, '', target, {
    source,
    tables: new Map(tables).set(table.id, source),
    reads: new Set(),
    refuse: (_path, message) => {
      misfit = message;
    },
  });
  return misfit;
}

/**
 * The values proposed for a line that a ripple adds: links back to the record, fields of equal labels and fitting types, and for
 * required fields who saved and when. A proposal only: nothing depends on the spelling afterwards.
 */
export function proposeValues(table: TableDefinition, target: TableDefinition, tables: Tables): RippleValue[] {
  const bare = (label: string): string => label.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '');
  const same = (field: FieldDefinition): RippleSource[] =>
    eventTable(table)
      .fields.filter((one) => bare(one.label) === bare(field.label))
      .map(({ id }) => ({ kind: 'field', path: id }));
  const given = (field: FieldDefinition): RippleSource[] =>
    field.required && field.initial === null ? [{ kind: 'now' }, { kind: 'account' }] : [];
  return target.fields.flatMap((field): RippleValue[] => {
    const sources: RippleSource[] = [{ kind: 'record' }, ...same(field), ...given(field)];
    const from = sources.find((one) => sourceMisfit({ to: field.id, from: one }, table, target, tables) === undefined);
    return from ? [{ to: field.id, from }] : [];
  });
}
