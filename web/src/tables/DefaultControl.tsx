import { fieldType, takesWord, type Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { FieldDefinition, Initial } from '@fiche/core/tables';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { SelectField, type SelectOption } from '../parts/index.ts';

const NONE = '';
const MOMENTS: Readonly<Record<string, readonly ('today' | 'now' | 'account')[]>> = {
  date: ['today'],
  time: ['now'],
  dateTime: ['now', 'today'],
  text: ['account'],
  account: ['account'],
};
const MOMENT_WORDS = {
  today: say('today'),
  now: say('now'),
  account: say('the account that adds the record'),
} as const;

/** A default in words, as lists show it; empty without one. */
export function defaultWords({
  type,
  settings,
  initial,
}: Pick<FieldDefinition, 'type' | 'settings' | 'initial'>): string {
  if (initial === null || (initial.kind === 'value' && initial.value === null)) return '';
  if (initial.kind === 'value') return fieldType(type).format(initial.value, settings);
  return initial.kind === 'calculation' ? `= ${initial.source}` : MOMENT_WORDS[initial.kind];
}

/** The values that a default can be picked from; undefined where it is typed. */
function picked({ type, settings }: Pick<FieldDefinition, 'type' | 'settings'>): SelectOption[] | undefined {
  if (fieldType(type).family === 'yesNo')
    return [
      { value: 'true', label: say('yes') },
      { value: 'false', label: say('no') },
    ];
  const choices = settings.choices as string[] | undefined;
  if (takesWord({ type }) && settings.level === undefined && choices && choices.length > 0)
    return choices.map((one) => ({ value: one, label: one }));
  return undefined;
}

/** What a new record starts with in a field: picked from what there is, or typed; `=` starts a calculation. */
export function DefaultControl({
  field,
  label = say('Default value'),
  onSet,
}: {
  field: Pick<FieldDefinition, 'type' | 'settings' | 'initial'>;
  label?: string;
  onSet(initial: Initial | null): void;
}) {
  const { type, settings, initial } = field;
  const options = picked(field);
  const current = initial?.kind === 'value' ? initial.value : null;
  if (options && initial?.kind !== 'calculation')
    return (
      <SelectField
        label={label}
        value={current === null ? NONE : String(current)}
        options={[{ value: NONE, label: say('none') }, ...options]}
        onChange={(value) => onSet(value === NONE ? null : { kind: 'value', value: readPicked(type, value) })}
      />
    );
  return <TypedDefault key={`${type} ${JSON.stringify([settings, initial])}`} {...{ field, label, onSet }} />;
}

const readPicked = (type: string, value: string): Value =>
  fieldType(type).family === 'yesNo' ? value === 'true' : value;

function TypedDefault({
  field: { type, settings, initial },
  label,
  onSet,
}: {
  field: Pick<FieldDefinition, 'type' | 'settings' | 'initial'>;
  label: string;
  onSet(initial: Initial | null): void;
}) {
  const moments = MOMENTS[type] ?? [];
  const shown = defaultWords({ type, settings, initial });
  const start = initial && initial.kind !== 'value' && initial.kind !== 'calculation' ? initial.kind : shown;
  const [text, setText] = useState<string>(start);
  const [problem, setProblem] = useState('');
  const commit = (): void => {
    const typed = text.trim();
    if (typed === start) return;
    const moment = moments.find((one) => one === typed.toLowerCase());
    if (moment) {
      onSet({ kind: moment });
      return;
    }
    if (typed.startsWith('=') && typed.length > 1) {
      onSet({ kind: 'calculation', source: typed.slice(1).trim() });
      return;
    }
    const read = fieldType(type).parse(typed, settings);
    if (!read.ok) setProblem(read.message);
    else onSet(read.value === null ? null : { kind: 'value', value: read.value });
  };
  const also = moments.length > 0 ? `${say('or {list},', { list: moments.join(` ${say('or')} `) })} ` : '';
  return (
    <TextField
      label={label}
      value={text}
      placeholder={say('none')}
      error={problem !== ''}
      helperText={problem || say('A value, {also}or = and a formula.', { also })}
      onChange={(event) => {
        setText(event.target.value);
        setProblem('');
      }}
      onBlur={commit}
      onKeyDown={(event) => event.key === 'Enter' && commit()}
    />
  );
}
