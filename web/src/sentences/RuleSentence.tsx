import { all, type Condition, EVERYTHING, type Group } from '@fiche/core/conditions';
import type { Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { Rule } from '@fiche/core/rules';
import type { FieldDefinition, Tables } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { type ComponentProps, useState } from 'react';
import { RemoveSentence, Sentence, type Slot } from '../parts/index.ts';
import { ConditionSentences } from './ConditionSentences.tsx';
import { ExpressionEditor } from './ExpressionEditor.tsx';
import { ExpressionSlot } from './ExpressionSlot.tsx';
import { proposedMessage } from './proposedMessage.ts';
import ruleCss from './rule.module.css';
import { type Around, formSides, type Side, sideAt } from './sides.ts';

interface RuleSentenceProps {
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
export const asDemand = (group: Group): Condition =>
  group.match === 'all' && group.of.length === 1 && group.of[0] ? group.of[0] : group;

/** “Stop unless Departure is after Arrival.” — a rule read and set as a sentence or a formula, with its acts beside it. */
export function RuleSentence(props: RuleSentenceProps) {
  const { rule, fields, tables, around, valueAt, now, onRemove } = props;
  const [limiting, setLimiting] = useState(false);
  const [rewriting, setRewriting] = useState(false);
  const sides = formSides(tables, fields, around);
  const onChange = (next: Rule): void => {
    const follows = rule.message === proposedMessage(rule, sides) && next.message === rule.message;
    props.onChange(follows ? { ...next, message: proposedMessage(next, sides) } : next);
  };
  const at: Side | undefined = sideAt(sides.left, { kind: 'form', path: rule.at });
  const formula = { label: say('Formula of the rule'), fields, lines: around?.lines, tables, valueAt, now };
  const setFormula = (source: string): void => onChange({ ...rule, must: { kind: 'expression', source } });
  const hasWhen = rule.when !== null || limiting;
  const onlyWhen = !hasWhen && (
    <Button variant="text" onClick={() => setLimiting(true)}>
      {say('Only when…')}
    </Button>
  );
  const kind = kindSlot(rule, onChange);
  const lead = hasWhen ? [`${say('unless')} `] : [kind, ` ${say('unless')} `];
  return (
    <div className={ruleCss.rule}>
      <span className={ruleCss.remove}>
        <RemoveSentence what={say('this rule')} onRemove={onRemove} />
      </span>
      {hasWhen && (
        <ConditionSentences
          key={limiting ? 'new' : 'set'}
          sides={sides}
          where={rule.when ?? EVERYTHING}
          starts={limiting}
          onStop={() => setLimiting(false)}
          lead={[kind, `${say(', only when')} `]}
          stop=","
          addLabel={say('Only when…')}
          onChange={(when) => {
            setLimiting(false);
            onChange({ ...rule, when: when.of.length === 0 ? null : when });
          }}
        />
      )}
      {rule.must.kind === 'expression' ? (
        <Sentence parts={[...lead, formulaSlot(rule.must.source, formula, setFormula), ' holds.']} />
      ) : (
        <ConditionSentences
          sides={sides}
          where={asGroup(rule.must)}
          lead={lead}
          addLabel={say('Compare')}
          begin={at}
          keepsOne
          acts={
            <>
              {onlyWhen}
              <ExpressionSlot
                {...formula}
                source={null}
                addLabel={say('Write as formula')}
                onSet={(source) => source && setFormula(source)}
              />
            </>
          }
          onChange={(where) => (where.of.length === 0 ? onRemove() : onChange({ ...rule, must: asDemand(where) }))}
        />
      )}
      {rewriting && (
        <InPlaceOfFormula
          sides={sides}
          begin={at}
          onStop={() => setRewriting(false)}
          onSet={(must) => onChange({ ...rule, must })}
        />
      )}
      <Sentence parts={[`${say('Message:')} `, messageSlot(rule, onChange)]} />
      {rule.must.kind === 'expression' && (
        <div className={ruleCss.acts}>
          {onlyWhen}
          {!rewriting && (
            <Button variant="text" onClick={() => setRewriting(true)}>
              {say('Write as sentence')}
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

interface InPlaceOfFormulaProps extends Pick<ComponentProps<typeof ConditionSentences>, 'sides' | 'begin'> {
  onStop(): void;
  onSet(must: Condition): void;
}

/** The sentence that takes the place of a rule’s formula. */
const InPlaceOfFormula = ({ sides, begin, onStop, onSet }: InPlaceOfFormulaProps) => (
  <ConditionSentences
    starts
    sides={sides}
    where={EVERYTHING}
    lead={[`${say('Instead: unless')} `]}
    addLabel={say('Compare')}
    begin={begin}
    onStop={onStop}
    onChange={(where) => {
      onStop();
      onSet(asDemand(where));
    }}
  />
);

const kindSlot = (rule: Rule, onChange: (rule: Rule) => void): Slot => ({
  key: 'kind',
  label: say('what the rule does'),
  shown: rule.kind === 'stop' ? say('Stop') : say('Ask for a reason'),
  pick: {
    kind: 'options',
    current: rule.kind,
    options: [
      { value: 'stop', label: say('Stop'), detail: say('refuses the save') },
      { value: 'ask', label: say('Ask for a reason'), detail: say('lets it through with a reason') },
    ],
  },
  onSet: (value) => onChange({ ...rule, kind: value as Rule['kind'] }),
});

const messageSlot = (rule: Rule, onChange: (rule: Rule) => void): Slot => ({
  key: 'message',
  label: say('message of the rule'),
  shown: `“${rule.message}”`,
  pick: { kind: 'text', current: rule.message, hint: say('Say what is wrong and what to do. Enter applies it.') },
  onSet: (text) => onChange({ ...rule, message: text.trim() || rule.message }),
});

const formulaSlot = (
  source: string,
  formula: Omit<ComponentProps<typeof ExpressionEditor>, 'current' | 'onSet' | 'onClose'>,
  onSet: (source: string) => void,
): Slot => ({
  key: 'expression',
  label: say('formula of the rule'),
  shown: source,
  pick: {
    kind: 'editor',
    edit: (done) => <ExpressionEditor {...formula} current={source} onSet={onSet} onClose={done} />,
  },
  onSet: () => undefined,
});
