import { isBlank, type Value } from '@fiche/core/fields';
import { labelAt, type PreparedForm, prepareRule } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { exampleHolds } from '@fiche/core/proof';
import type { Example, Rule } from '@fiche/core/rules';
import { fieldAtPath, linkedTable, typeOf } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { type Phrase, RemoveSentence, Sentence, type Slot, textCss, useNotify } from '../parts/index.ts';
import examplesCss from './examples.module.css';
import type { LiveValues } from './fieldSettingsProps.ts';

interface Props {
  readonly rule: Rule;
  readonly prepared: PreparedForm;
  readonly live?: LiveValues;
  onChange(rule: Rule): void;
}

/** Values that a rule is tried on at every publish, and whether they should pass. */
export function ExampleSentences({ rule, prepared, live, onChange }: Props) {
  const notify = useNotify();
  const { tables, table } = prepared;
  const ready = prepareRule(rule, table, tables, false);
  const now = live?.now ?? '';
  const set = (at: number, next: Example | undefined): void =>
    onChange({ ...rule, examples: rule.examples.flatMap((one, n) => (n === at ? (next ? [next] : []) : [one])) });
  const keep = (): void => {
    const values = Object.fromEntries(ready.reads.map((path): [string, Value] => [path, live?.valueAt(path) ?? null]));
    if (Object.values(values).every(isBlank)) {
      notify(say('Fill the card first: an example takes the values that stand on it.'));
      return;
    }
    const example: Example = { values, passes: true };
    onChange({ ...rule, examples: [...rule.examples, { ...example, passes: exampleHolds(ready, example, now) }] });
  };
  const valueSlot = (example: Example, at: number, path: string): Slot | string => {
    const field = fieldAtPath(tables, table.id, path);
    const value = example.values[path] ?? null;
    if (!field || linkedTable(field) !== undefined)
      return isBlank(value) ? say('blank') : say('record {value}', { value: String(value) });
    const text = isBlank(value) ? '' : typeOf(field).format(value, field.settings);
    return {
      key: `${at}-${path}`,
      label: say('{label} of the example', { label: field.label }),
      shown: text || say('blank'),
      pick: { kind: 'text', current: text },
      onSet: (typed) => {
        const read = typeOf(field).parse(typed, field.settings);
        if (!read.ok) return notify(read.message);
        set(at, { ...example, values: { ...example.values, [path]: read.value } });
      },
    };
  };
  return (
    <>
      {rule.examples.map((example, at) => {
        const holds = exampleHolds(ready, example, now);
        const parts: Phrase = [
          `${say('Example:')} `,
          ...ready.reads.flatMap((path, n) => [
            n === 0 ? '' : ', ',
            `${labelAt(tables, table.id, path)} `,
            valueSlot(example, at, path),
          ]),
          ` ${say('should')} `,
          {
            key: 'passes',
            label: say('what the rule should say of the example'),
            shown: example.passes ? 'pass' : rule.kind === 'stop' ? say('be refused') : say('be asked about'),
            pick: {
              kind: 'options',
              current: example.passes ? 'yes' : 'no',
              options: [
                { value: 'yes', label: say('pass') },
                { value: 'no', label: rule.kind === 'stop' ? say('be refused') : say('be asked about') },
              ],
            },
            onSet: (value) => set(at, { ...example, passes: value === 'yes' }),
          },
          holds ? say(', and it does.') : say(', and it does not.'),
        ];
        return (
          <div key={JSON.stringify(example)} className={clsx(examplesCss.example, !holds && examplesCss.fails)}>
            <Sentence
              parts={parts}
              end={<RemoveSentence what={say('example {at}', { at: at + 1 })} onRemove={() => set(at, undefined)} />}
            />
          </div>
        );
      })}
      <Button variant="text" className={textCss.smallButton} onClick={keep}>
        {say('Keep what is on the card as an example')}
      </Button>
    </>
  );
}
