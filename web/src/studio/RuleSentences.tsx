import { type Operator, operatorsFor, operatorWords } from '@fiche/core/conditions';
import type { Rule } from '@fiche/core/rules';
import { fieldAtPath, typeOf } from '@fiche/core/tables';
import { Sentence, type Slot } from '../parts/index.ts';
import type { SlipProps } from './Slip.tsx';

type Compared = Rule & { must: Extract<Rule['must'], { right: unknown }> };
const isCompared = (rule: Rule): rule is Compared =>
  'right' in rule.must && rule.must.left.kind === 'form' && rule.must.right.kind === 'form';
const REMOVE = '-';

/** "Stop unless Departure is after Arrival": the checks that stand at this field. */
export function RuleSentences({ definition, prepared, field, onChange }: SlipProps) {
  const { family } = typeOf(field.field);
  const ordered = operatorsFor(family).includes('less');
  const rivals = [...prepared.fields.values()].filter(
    (one) => one.id !== field.id && typeOf(one.field).family === family,
  );
  const own = definition.rules.filter((rule) => rule.at === field.id);
  const fromTable = prepared.table.rules.filter((rule) => rule.at === field.id);
  const change = (id: string, next: Rule | undefined): void =>
    onChange({
      ...definition,
      rules: next
        ? definition.rules.map((rule) => (rule.id === id ? next : rule))
        : definition.rules.filter((rule) => rule.id !== id),
    });
  const nameAt = (path: string): string =>
    prepared.fields.get(path)?.label ??
    path
      .split('.')
      .map(
        (_step, n, steps) =>
          fieldAtPath(prepared.tables, prepared.table.id, steps.slice(0, n + 1).join('.'))?.label ?? '',
      )
      .join('’s ');
  const add = (): void => {
    const [rival] = rivals;
    if (!rival) return;
    const id = `r${Date.now().toString(36)}`;
    const must = {
      kind: 'compare' as const,
      left: { kind: 'form' as const, path: field.id },
      operator: 'more' as const,
      right: { kind: 'form' as const, path: rival.id },
    };
    onChange({
      ...definition,
      rules: [
        ...definition.rules,
        {
          id,
          kind: 'stop',
          at: field.id,
          must,
          message: `${field.label} ${operatorWords('more', family).replace(/^is/, 'must be')} ${rival.label}.`,
        },
      ],
    });
  };
  const parts = (rule: Compared): (string | Slot)[] => {
    const { right, operator } = rule.must;
    const path = right.kind === 'form' ? right.path : '';
    const operators: Slot = {
      key: 'operator',
      label: 'comparison',
      shown: operatorWords(operator, family),
      onSet: (o) => change(rule.id, { ...rule, must: { ...rule.must, operator: o as 'more' } }),
      pick: {
        kind: 'options',
        current: operator,
        options: operatorsFor(family)
          .filter((o: Operator) => o !== 'isBlank' && o !== 'isNotBlank')
          .map((o) => ({ value: o, label: operatorWords(o, family) })),
      },
    };
    const other: Slot = {
      key: 'right',
      label: 'field to compare with',
      side: 'form',
      shown: nameAt(path),
      pick: {
        kind: 'options',
        current: path,
        options: [
          ...rivals.map((one) => ({ value: one.id, label: one.label })),
          { value: REMOVE, label: 'take this rule away' },
        ],
      },
      onSet: (id) =>
        change(
          rule.id,
          id === REMOVE ? undefined : { ...rule, must: { ...rule.must, right: { kind: 'form', path: id } } },
        ),
    };
    const message: Slot = {
      key: 'message',
      label: 'message',
      shown: `“${rule.message}”`,
      pick: { kind: 'text', current: rule.message },
      onSet: (text) => change(rule.id, { ...rule, message: text.trim() || rule.message }),
    };
    return [`Stop unless ${field.label} `, operators, ' this form’s ', other, ': ', message, '.'];
  };
  return (
    <>
      {fromTable.map((rule) => (
        <p className="sentence" key={rule.id}>
          {describe(rule, nameAt, family)} <span className="faded">— for every path into {prepared.table.label}</span>
        </p>
      ))}
      {own.map((rule) =>
        isCompared(rule) ? (
          <Sentence key={rule.id} parts={parts(rule)} />
        ) : (
          <p key={rule.id} className="sentence">
            {rule.message}
          </p>
        ),
      )}
      {ordered && rivals.length > 0 ? (
        <button type="button" className="link" onClick={add}>
          Compare it with another field
        </button>
      ) : (
        own.length + fromTable.length === 0 && <p className="faded">What its type and the table check.</p>
      )}
    </>
  );
}

function describe(rule: Rule, nameAt: (path: string) => string, family: Parameters<typeof operatorWords>[1]): string {
  const side = (operand: Rule['must']['left']): string =>
    operand.kind === 'form'
      ? nameAt(operand.path)
      : operand.kind === 'constant'
        ? String(operand.value)
        : 'the account';
  const right = 'right' in rule.must ? ` ${side(rule.must.right)}` : '';
  return `Stop unless ${side(rule.must.left)} ${operatorWords(rule.must.operator, family)}${right}: “${rule.message}”`;
}
