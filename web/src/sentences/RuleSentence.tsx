import { all, type Condition, EVERYTHING, type Group } from '@fiche/core/conditions';
import type { Value } from '@fiche/core/fields';
import type { Rule } from '@fiche/core/rules';
import type { FieldDefinition, Tables } from '@fiche/core/tables';
import { Sentence, type Slot } from '../parts/index.ts';
import { ConditionSentences } from './ConditionSentences.tsx';
import { ExpressionEditor } from './ExpressionEditor.tsx';
import { proposedMessage } from './newRule.ts';
import { type Around, formSides, type Side, sideAt } from './sides.ts';

export interface RuleSentenceProps {
  readonly rule: Rule;
  readonly fields: readonly FieldDefinition[];
  readonly around?: Around;
  readonly tables: Tables;
  valueAt?(path: string): Value;
  readonly now: string;
  onChange(rule: Rule): void;
  onRemove(): void;
}

const asGroup = (condition: Condition): Group => (condition.kind === 'group' ? condition : all(condition));
/** A group of a single comparison is stored as that comparison, as the sentence reads. */
const asDemand = (group: Group): Condition =>
  group.match === 'all' && group.of.length === 1 && group.of[0] ? group.of[0] : group;

/** “Stop unless Departure is after Arrival: …” — a rule read and set as a sentence, or as an expression. */
export function RuleSentence(props: RuleSentenceProps) {
  const { rule, fields, tables, around, valueAt, now, onRemove } = props;
  const sides = formSides(tables, fields, around);
  const onChange = (next: Rule): void => {
    const follows = rule.message === proposedMessage(rule, sides) && next.message === rule.message;
    props.onChange(follows ? { ...next, message: proposedMessage(next, sides) } : next);
  };
  const at: Side | undefined = sideAt(sides.left, { kind: 'form', path: rule.at });
  const kind: Slot = {
    key: 'kind',
    label: 'what the rule does',
    shown: rule.kind === 'stop' ? 'Stop' : 'Ask why',
    pick: {
      kind: 'options',
      current: rule.kind,
      options: [
        { value: 'stop', label: 'Stop', detail: 'refuses the save' },
        { value: 'ask', label: 'Ask why', detail: 'lets it through with a reason' },
        ...(rule.when ? [] : [{ value: 'when', label: 'only under a condition…' }]),
        rule.must.kind === 'expression'
          ? { value: 'sentence', label: 'say it as a sentence' }
          : { value: 'expression', label: 'write it as an expression' },
        { value: 'remove', label: 'take this rule away' },
      ],
    },
    onSet: (value) => {
      if (value === 'remove') onRemove();
      else if (value === 'when')
        onChange({
          ...rule,
          when: {
            ...EVERYTHING,
            of: [{ kind: 'compare', left: (at ?? (sides.left[0] as Side)).operand, operator: 'isNotBlank' }],
          },
        });
      else if (value === 'expression') onChange({ ...rule, must: { kind: 'expression', source: 'true' } });
      else if (value === 'sentence')
        onChange({ ...rule, must: { kind: 'compare', left: { kind: 'form', path: rule.at }, operator: 'isNotBlank' } });
      else onChange({ ...rule, kind: value as Rule['kind'] });
    },
  };
  const message: Slot = {
    key: 'message',
    label: 'message of the rule',
    shown: `“${rule.message}”`,
    pick: { kind: 'text', current: rule.message, hint: 'Say what is wrong and what to do. Enter keeps it.' },
    onSet: (text) => onChange({ ...rule, message: text.trim() || rule.message }),
  };
  const lead = rule.when ? [] : [kind, ' unless '];
  return (
    <div className="rule">
      {rule.when && (
        <ConditionSentences
          sides={sides}
          where={rule.when}
          lead={[kind, ', when ']}
          tail={[]}
          addLabel="Only under a condition"
          onChange={(when) => onChange({ ...rule, when: when.of.length === 0 ? null : when })}
        />
      )}
      {rule.must.kind === 'expression' ? (
        <Sentence
          parts={[
            ...(rule.when ? ['unless '] : lead),
            {
              key: 'expression',
              label: 'expression of the rule',
              shown: rule.must.source,
              pick: {
                kind: 'editor',
                edit: (done) => (
                  <ExpressionEditor
                    label="Expression of the rule"
                    current={rule.must.kind === 'expression' ? rule.must.source : ''}
                    fields={fields}
                    lines={around?.lines}
                    tables={tables}
                    valueAt={valueAt}
                    now={now}
                    onSet={(source) => onChange({ ...rule, must: { kind: 'expression', source } })}
                    onClose={done}
                  />
                ),
              },
              onSet: () => undefined,
            },
            ' holds.',
          ]}
        />
      ) : (
        <ConditionSentences
          sides={sides}
          where={asGroup(rule.must)}
          lead={rule.when ? ['unless '] : lead}
          addLabel="Compare"
          begin={at}
          onChange={(where) => (where.of.length === 0 ? onRemove() : onChange({ ...rule, must: asDemand(where) }))}
        />
      )}
      <Sentence parts={['It says ', message]} />
    </div>
  );
}
