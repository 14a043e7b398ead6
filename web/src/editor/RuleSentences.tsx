import { namesOf, ruleWords, subformsOf } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { Rule } from '@fiche/core/rules';
import { sentenceCss, textCss } from '../parts/index.ts';
import { aroundOf, NewRule, RuleSentence } from '../sentences/index.ts';
import { RuleTrial } from '../tables/index.ts';
import { ExampleSentences } from './ExampleSentences.tsx';
import type { FieldSettingsProps } from './fieldSettingsProps.ts';

/** The checks that stand at this field: those of the table read, those of the form set. */
export function RuleSentences({ id, definition, prepared, field, live, onChange }: FieldSettingsProps) {
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
  const names = namesOf({
    tables: prepared.tables,
    table: prepared.table.id,
    subforms: subformsOf(prepared.definition),
    enclosing: prepared.enclosure?.table.id,
  });
  return (
    <>
      {fromTable.map((rule) => (
        <p className={sentenceCss.sentence} key={rule.id}>
          {ruleWords(rule, names)}{' '}
          <span className={textCss.faded}>{say('— rule of the table {label}', { label: prepared.table.label })}</span>
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
            <RuleTrial
              key={JSON.stringify([rule.when, rule.must])}
              url={`/api/forms/${id}/trial`}
              rule={rule}
              table={prepared.table.id}
            />
          )}
        </div>
      ))}
      <NewRule
        at={at}
        fields={fields}
        tables={prepared.tables}
        around={around}
        now={live?.now ?? ''}
        valueAt={live?.valueAt}
        onAdd={(rule) => onChange({ ...definition, rules: [...definition.rules, rule] })}
      />
    </>
  );
}
