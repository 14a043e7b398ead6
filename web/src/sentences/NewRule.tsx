import { EVERYTHING } from '@fiche/core/conditions';
import type { Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { Rule } from '@fiche/core/rules';
import type { FieldDefinition, Tables } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { pageCss } from '../parts/index.ts';
import { ConditionSentences } from './ConditionSentences.tsx';
import { ExpressionSlot } from './ExpressionSlot.tsx';
import { proposedMessage } from './proposedMessage.ts';
import { asDemand } from './RuleSentence.tsx';
import ruleCss from './rule.module.css';
import { type Around, formSides, sideAt } from './sides.ts';

interface NewRuleProps {
  /** The field at which the message will show. */
  readonly at: FieldDefinition;
  readonly fields: readonly FieldDefinition[];
  readonly tables: Tables;
  readonly around?: Around;
  readonly now: string;
  valueAt?(path: string): Value;
  onAdd(rule: Rule): void;
}

const newId = (): string => `r${Date.now().toString(36)}${Math.floor(Math.random() * 1296).toString(36)}`;

/** Adds a rule at a field: its sentence begins with empty slots, and it counts once they are filled. */
export function NewRule({ at, fields, tables, around, now, valueAt, onAdd }: NewRuleProps) {
  const [kind, setKind] = useState<Rule['kind']>();
  const sides = formSides(tables, fields, around);
  const begin = sideAt(sides.left, { kind: 'form', path: at.id });
  const add = (must: Rule['must']): void => {
    if (kind === undefined) return;
    const rule: Rule = { id: newId(), kind, when: null, must, at: at.id, message: '', examples: [] };
    setKind(undefined);
    onAdd({ ...rule, message: proposedMessage(rule, sides) });
  };
  if (kind === undefined)
    return (
      <p className={pageCss.acts}>
        <Button variant="text" onClick={() => setKind('stop')}>
          {say('Add a rule that stops')}
        </Button>
        <Button variant="text" onClick={() => setKind('ask')}>
          {say('Add a rule that asks for a reason')}
        </Button>
      </p>
    );
  return (
    <div className={ruleCss.rule}>
      <ConditionSentences
        starts
        sides={sides}
        where={EVERYTHING}
        lead={[kind === 'stop' ? `${say('Stop unless')} ` : `${say('Ask for a reason unless')} `]}
        addLabel={say('Compare')}
        begin={begin}
        onStop={() => setKind(undefined)}
        onChange={(where) => add(asDemand(where))}
      />
      <ExpressionSlot
        label={say('Formula of the rule')}
        source={null}
        addLabel={say('Write as formula')}
        fields={fields}
        lines={around?.lines}
        tables={tables}
        valueAt={valueAt}
        now={now}
        onSet={(source) => source && add({ kind: 'expression', source })}
      />
    </div>
  );
}
