import { namesOf, ruleWords, subformsOf } from '@fiche/core/forms';
import type { Rule } from '@fiche/core/rules';
import { aroundOf, newRule, RuleSentence } from '../sentences/index.ts';
import { ExampleSentences } from './ExampleSentences.tsx';
import { RuleTrial } from './RuleTrial.tsx';
import type { SlipProps } from './Slip.tsx';

/** The checks that stand at this field: those of the table read, those of the form set. */
export function RuleSentences({ id, definition, prepared, field, live, onChange }: SlipProps) {
  const own = definition.rules.filter((rule) => rule.at === field.id);
  const fromTable = prepared.table.rules.filter((rule) => rule.at === field.id);
  const fields = [...prepared.fields.values()]
    .filter((one) => one.placed)
    .map((one) => ({ ...one.field, label: one.label }));
  const around = aroundOf(prepared);
  const at = fields.find((one) => one.id === field.id) ?? field.field;
  const setRule = (rule: string, next: Rule | undefined): void =>
    onChange({
      ...definition,
      rules: definition.rules.flatMap((one) => (one.id === rule ? (next ? [next] : []) : [one])),
    });
  const add = (kind: Rule['kind']): void =>
    onChange({ ...definition, rules: [...definition.rules, newRule(kind, at, fields, prepared.tables, around)] });
  const names = namesOf({
    tables: prepared.tables,
    table: prepared.table.id,
    subforms: subformsOf(prepared.definition),
    enclosing: prepared.enclosure?.table.id,
  });
  return (
    <>
      {fromTable.map((rule) => (
        <p className="sentence" key={rule.id}>
          {ruleWords(rule, names)} <span className="faded">— for every path into {prepared.table.label}</span>
        </p>
      ))}
      {own.map((rule) => (
        <div key={rule.id}>
          <RuleSentence
            rule={rule}
            fields={fields}
            around={around}
            tables={prepared.tables}
            valueAt={live?.valueAt}
            now={live?.now ?? ''}
            onChange={(next) => setRule(rule.id, next)}
            onRemove={() => setRule(rule.id, undefined)}
          />
          <ExampleSentences rule={rule} prepared={prepared} live={live} onChange={(next) => setRule(rule.id, next)} />
          {!prepared.enclosure && (
            <RuleTrial key={JSON.stringify([rule.when, rule.must])} form={id} rule={rule} table={prepared.table.id} />
          )}
        </div>
      ))}
      {own.length + fromTable.length === 0 && <p className="faded">What its type and the table check.</p>}
      <p className="acts">
        <button type="button" className="link" onClick={() => add('stop')}>
          Add a rule that stops
        </button>
        <button type="button" className="link" onClick={() => add('ask')}>
          Add a rule that asks why
        </button>
      </p>
    </>
  );
}
