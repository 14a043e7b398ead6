import {
  all,
  type Comparison,
  type Condition,
  type Operator,
  operatorsFor,
  operatorWords,
} from '@fiche/core/conditions';
import { fieldType, type Value } from '@fiche/core/fields';
import { NOT_NARROWED } from '@fiche/core/narrowing';
import { type FieldDefinition, fieldAtPath, typeOf } from '@fiche/core/tables';
import { Sentence, type Slot } from '../parts/index.ts';
import { changeField, fieldOn } from './edit.ts';
import type { SlipProps } from './Slip.tsx';

type Narrowed = Comparison & { left: { kind: 'column'; path: string } };

/** The first column that can be the same as a field of the form: what a builder most likely means. */
function likelyPair(
  columns: readonly FieldDefinition[],
  others: readonly FieldDefinition[],
): { column: FieldDefinition; other?: FieldDefinition } | undefined {
  for (const column of columns)
    for (const other of others)
      if (column.type === 'link' && other.type === 'link' && column.settings.table === other.settings.table)
        return { column, other };
  for (const column of columns)
    for (const other of others)
      if (typeOf(column).family === typeOf(other).family && column.label.toLowerCase() === other.label.toLowerCase())
        return { column, other };
  const [column] = columns;
  return column ? { column } : undefined;
}

/** "Offer Berths whose Pontoon is this form’s Pontoon": both sides named, each in its own colour, line and word. */
export function NarrowingSentences({ definition, prepared, field, onChange }: SlipProps) {
  const { source } = field;
  const choices = source && prepared.tables.get(source.table);
  if (!source || !choices) return null;
  const narrowing = fieldOn(definition, field.id)?.narrowing ?? NOT_NARROWED;
  const own = narrowing.where.of;
  const set = (of: readonly Condition[]): void =>
    onChange(
      changeField(definition, field.id, { narrowing: { ...narrowing, show: [...narrowing.show], where: all(...of) } }),
    );
  const others = [...prepared.fields.values()]
    .filter((one) => one.id !== field.id)
    .map((one) => ({ ...one.field, label: one.label }));
  const inherited = field.narrowing.where.of.filter((one) => one.kind === 'compare');
  const ancestors =
    source.column === undefined
      ? []
      : inherited.flatMap((one) =>
          'right' in one && one.right.kind === 'form' ? [prepared.fields.get(one.right.path)?.label ?? ''] : [],
        );
  const offered =
    source.column === undefined ? choices.label : (choices.fields.find((one) => one.id === source.column)?.label ?? '');
  const replace = (n: number, next: Condition | undefined): void =>
    set(next ? own.map((one, at) => (at === n ? next : one)) : own.filter((_one, at) => at !== n));
  const add = (): void => {
    const pair = likelyPair(choices.fields, others);
    if (!pair) return;
    const left = { kind: 'column' as const, path: pair.column.id };
    set([
      ...own,
      pair.other
        ? { kind: 'compare', left, operator: 'is', right: { kind: 'form', path: pair.other.id } }
        : { kind: 'compare', left, operator: 'isNotBlank' },
    ]);
  };
  const sort: Slot = {
    key: 'sort',
    label: `column of ${choices.label} to sort by`,
    side: 'choices',
    shown: choices.fields.find((one) => one.id === (narrowing.sort ?? choices.title))?.label ?? 'order of entry',
    pick: {
      kind: 'options',
      current: narrowing.sort ?? choices.title ?? '',
      options: choices.fields.map((one) => ({ value: one.id, label: one.label })),
    },
    onSet: (id) =>
      onChange(
        changeField(definition, field.id, {
          narrowing: { ...narrowing, where: narrowing.where, show: [...narrowing.show], sort: id },
        }),
      ),
  };
  const sentences = own.map((one, n) =>
    one.kind === 'compare' && one.left.kind === 'column'
      ? conditionParts(one as Narrowed, n)
      : [`${n > 0 ? 'and ' : ''}a group of conditions`],
  );

  function conditionParts(one: Narrowed, n: number): (string | Slot)[] {
    const column = fieldAtPath(prepared.tables, choices?.id ?? '', one.left.path);
    const family = column ? typeOf(column).family : 'text';
    const key = (name: string): string => `${n}-${name}`;
    const left: Slot = {
      key: key('column'),
      label: `column of ${choices?.label}`,
      side: 'choices',
      shown: column?.label ?? one.left.path,
      pick: {
        kind: 'options',
        current: one.left.path,
        options: [
          ...(choices?.fields ?? []).map((c) => ({ value: c.id, label: c.label, detail: `of ${choices?.label}` })),
          { value: '', label: 'take this condition away' },
        ],
      },
      onSet: (path) => replace(n, path === '' ? undefined : fitting({ ...one, left: { kind: 'column', path } })),
    };
    const operator: Slot = {
      key: key('operator'),
      label: 'comparison',
      shown: operatorWords(one.operator, family),
      pick: {
        kind: 'options',
        current: one.operator,
        options: operatorsFor(family).map((o) => ({ value: o, label: operatorWords(o, family) })),
      },
      onSet: (o) => replace(n, withOperator(one, o as Operator)),
    };
    return [
      n === 0 ? ' whose ' : ', and whose ',
      left,
      ' ',
      operator,
      ...('right' in one ? rightParts(one, n, column) : []),
    ];
  }

  function rightParts(
    one: Narrowed & { right: object },
    n: number,
    column: FieldDefinition | undefined,
  ): (string | Slot)[] {
    const right = (one as Extract<Comparison, { right: unknown }>).right;
    const type = column && typeOf(column);
    const fits = others.filter(
      (other) =>
        type &&
        typeOf(other).family === type.family &&
        (other.type !== 'link' || other.settings.table === column?.settings.table),
    );
    const constant = right.kind === 'constant';
    const options = [
      ...fits.map((other) => ({ value: `form:${other.id}`, label: `this form’s ${other.label}` })),
      ...constantOptions(column),
    ];
    const picked: Slot = {
      key: `${n}-right`,
      label: 'this form’s field, or a value',
      side: 'form',
      shown:
        constant && type
          ? type.name === 'yesNo'
            ? right.value
              ? 'yes'
              : 'no'
            : type.format(right.value, column?.settings ?? {})
          : right.kind === 'form'
            ? (prepared.fields.get(right.path)?.label ?? right.path)
            : 'the account',
      pick: { kind: 'options', options, current: right.kind === 'form' ? `form:${right.path}` : undefined },
      onSet: (value) =>
        replace(n, {
          ...one,
          right: value.startsWith('form:')
            ? { kind: 'form', path: value.slice(5) }
            : { kind: 'constant', value: JSON.parse(value.slice(6)) },
        } as Condition),
    };
    return [constant ? ' ' : ' this form’s ', picked];
  }

  /** After its column changed, a condition compares with a field that fits it. */
  function fitting(one: Narrowed): Condition {
    const column = fieldAtPath(prepared.tables, choices?.id ?? '', one.left.path);
    const other = column && likelyPair([column], others)?.other;
    return other
      ? { kind: 'compare', left: one.left, operator: 'is', right: { kind: 'form', path: other.id } }
      : { kind: 'compare', left: one.left, operator: 'isNotBlank' };
  }

  function withOperator(one: Narrowed, operator: Operator): Condition {
    if (operator === 'isBlank' || operator === 'isNotBlank') return { kind: 'compare', left: one.left, operator };
    if ('right' in one) return { ...one, operator } as Condition;
    const column = fieldAtPath(prepared.tables, choices?.id ?? '', one.left.path);
    const other = column && likelyPair([column], others)?.other;
    const first = constantOptions(column)[0];
    const right = other
      ? { kind: 'form' as const, path: other.id }
      : first
        ? { kind: 'constant' as const, value: JSON.parse(first.value.slice(6)) }
        : { kind: 'account' as const };
    return { kind: 'compare', left: one.left, operator, right } as Condition;
  }

  return (
    <>
      {ancestors.length > 0 && <p className="sentence">Every level above counts: {ancestors.join(' and ')}.</p>}
      <Sentence
        parts={[
          `Offer `,
          offered,
          ...sentences.flat(),
          ...(source.column === undefined ? [', sorted by ', sort] : []),
          '.',
        ]}
      />
      <button type="button" className="link" onClick={add}>
        {own.length === 0 ? 'Narrow it by another field' : 'Narrow it further'}
      </button>
    </>
  );
}

/** The constants a condition on a column can name without typing: yes and no, the choices. */
function constantOptions(column: FieldDefinition | undefined): { value: string; label: string; detail: string }[] {
  if (!column) return [];
  const values: Value[] =
    column.type === 'yesNo' ? [true, false] : ((column.settings.choices as string[] | undefined) ?? []);
  return values.map((value) => ({
    value: `const:${JSON.stringify(value)}`,
    label: fieldType(column.type).format(value, column.settings),
    detail: 'a value',
  }));
}
