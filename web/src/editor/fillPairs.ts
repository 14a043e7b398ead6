import { linksOne } from '@fiche/core/fields';
import { type Fill, misfit, proposePairs } from '@fiche/core/fills';
import type { PreparedField, PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { type FieldDefinition, isGiven, linkedTable, type TableId } from '@fiche/core/tables';
import type { SlotOption } from '../parts/index.ts';

type Pair = Fill['pairs'][number];

/** A fill with what its pairs are chosen from. */
export interface Filling {
  readonly tables: PreparedForm['tables'];
  readonly fill: Fill;
  /** The fields of the form that can be filled, under their labels there. */
  readonly targets: readonly FieldDefinition[];
}

/** The fields of a form that a field can fill. */
export const targetsOf = (prepared: PreparedForm, field: PreparedField): FieldDefinition[] =>
  [...prepared.fields.values()]
    .filter((one) => one.placed && one.id !== field.id && !isGiven(one.field) && !one.calculation)
    .map((one) => ({ ...one.field, label: one.label }));

/** A fill from a table, with the pairs that labels and types propose; `key` is null where a record is chosen, not found. */
export function beginFill(prepared: PreparedForm, field: PreparedField, table: TableId, key: string | null): Fill {
  const targets = targetsOf(prepared, field);
  const parents = prepared.wiring.edges.flatMap((edge) =>
    edge.kind === 'narrows' && edge.to === field.id ? [edge.from] : [],
  );
  // What narrows this field follows its choice anyway: a fill back into it would go in a circle.
  const same = proposePairs(
    prepared.tables,
    table,
    targets.filter((target) => !parents.includes(target.id)),
  );
  const link = key === null ? undefined : targets.find((target) => linkedTable(target) === table);
  const self: Pair[] = link ? [{ from: 'self', to: link.id, policy: 'replace' }] : [];
  return { table, key, pairs: [...self, ...same], whenNone: 'message' };
}

/** The column by which records of a table are likely found by what is typed into a field. */
export function likelyKey(prepared: PreparedForm, table: TableId, { field }: PreparedField): string | undefined {
  const columns = prepared.tables.get(table)?.fields ?? [];
  const same = columns.find((column) => column.label.toLowerCase() === field.label.toLowerCase());
  return (same ?? columns.find((column) => column.unique) ?? columns[0])?.id;
}

/** What of the record fits a field: the record itself, its columns, and those of the records that it links to. */
export function columnsFor({ tables, fill, targets }: Filling, to: string): SlotOption[] {
  const table = tables.get(fill.table);
  const target = targets.find((one) => one.id === to);
  const own = (table?.fields ?? []).flatMap((column) => {
    const next = linksOne(column) ? tables.get(linkedTable(column) ?? '') : undefined;
    return [
      { value: column.id, label: column.label, detail: say('of {label}', { label: table?.label ?? '' }) },
      ...(next?.fields ?? []).map((far) => ({
        value: `${column.id}.${far.id}`,
        label: `${column.label} › ${far.label}`,
        detail: say('of {label}', { label: next?.label ?? '' }),
      })),
    ];
  });
  return [
    { value: 'self', label: say('the {label} record itself', { label: table?.label ?? '' }), detail: '' },
    ...own,
  ].filter((one) => target !== undefined && misfit(tables, fill.table, one.value, target) === undefined);
}

/** The column that is meant most likely: one whose label the field’s label ends with, as *Nightly rate* with *Rate*. */
export function likelyColumn(filling: Filling, to: string): string | undefined {
  const label = (filling.targets.find((one) => one.id === to)?.label ?? '').toLowerCase();
  const columns = columnsFor(filling, to);
  return (columns.find((one) => label.endsWith(one.label.toLowerCase())) ?? columns[0])?.value;
}

/** The fields that are not filled yet and that something of the record fits. */
export const freeTargets = (filling: Filling): FieldDefinition[] =>
  filling.targets.filter(
    (target) => !filling.fill.pairs.some((pair) => pair.to === target.id) && columnsFor(filling, target.id).length > 0,
  );

/** What fills a pair’s field, as the sentence says it. */
export const fromWords = (filling: Filling, { from, to }: Pair): string =>
  from === 'self'
    ? say('the record itself')
    : (columnsFor(filling, to).find((one) => one.value === from)?.label ?? from);

/** The fill with one more field, from the column that is proposed for it. */
export function withTarget(filling: Filling, to: string): Fill {
  const { tables, fill, targets } = filling;
  const [proposed] = proposePairs(
    tables,
    fill.table,
    targets.filter((one) => one.id === to),
  );
  const from = proposed?.from ?? likelyColumn(filling, to);
  return from === undefined ? fill : { ...fill, pairs: [...fill.pairs, { from, to, policy: 'replace' }] };
}

/** The fill with a changed pair; without it where the change is undefined. Another field keeps its column if that fits. */
export function withPair(filling: Filling, at: number, change: Partial<Pair> | undefined): Fill {
  const { fill } = filling;
  return {
    ...fill,
    pairs: fill.pairs.flatMap((pair, n) => {
      if (n !== at) return [pair];
      if (!change) return [];
      const next = { ...pair, ...change };
      const fits = columnsFor(filling, next.to).some((one) => one.value === next.from);
      return [fits ? next : { ...next, from: likelyColumn(filling, next.to) ?? next.from }];
    }),
  };
}
