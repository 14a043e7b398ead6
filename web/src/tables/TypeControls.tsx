import { isLinking, isNumbered, isOfWords, readItems, takesWord, writeItems } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import { CheckField, PickField, SelectField } from '../parts/index.ts';
import { currencies } from '../settings/index.ts';
import { type FieldKind, levelOf, startingSettings, typeOptions } from './fieldKind.ts';

interface TypeControlsProps {
  readonly kind: FieldKind;
  /** The table that the field belongs to, if there is one already. */
  readonly of?: string;
  readonly label?: string;
  /** Types that cannot be chosen here. */
  readonly without?: readonly string[];
  /** Whether the words of a choice are asked for; a change of type finds them in the column. */
  readonly withoutWords?: boolean;
  onChange(kind: FieldKind): void;
}

/** The type of a field and the settings that its column is made with: target table, option list, places, currency, prefix. */
export function TypeControls({ kind, of, label = say('Type'), without, withoutWords, onChange }: TypeControlsProps) {
  const { cabinet } = useOffice();
  const { type, settings } = kind;
  const tables = cabinet.tables.filter((one) => !one.archived);
  const records = tables.filter((one) => one.kind === 'records');
  const set = (part: Readonly<Record<string, unknown>>): void => onChange({ type, settings: { ...settings, ...part } });
  const choose = (next: string): void => {
    const others = records.filter((one) => one.id !== of);
    onChange({ type: next, settings: startingSettings(next, others.length > 0 ? others : records) });
  };
  return (
    <>
      <SelectField label={label} value={type} options={typeOptions(without)} onChange={choose} />
      {isLinking(kind) && (
        <SelectField
          label={say('To the table')}
          value={String(settings.table)}
          options={tables.map((one) => ({ value: one.id, label: one.label }))}
          onChange={(table) => onChange({ type, settings: { table } })}
        />
      )}
      {isOfWords(kind) && <ChoiceSource kind={kind} lists={tables} withoutWords={withoutWords} onChange={onChange} />}
      {type === 'decimal' && (
        <SelectField
          label={say('Decimal places')}
          value={String(settings.places)}
          options={['0', '1', '2', '3', '4', '5', '6'].map((one) => ({ value: one, label: one }))}
          onChange={(places) => set({ places: Number(places) })}
        />
      )}
      {type === 'amount' && (
        <PickField
          id="currency"
          label={say('Currency')}
          options={currencies()}
          value={String(settings.currency)}
          onPick={(currency) => onChange({ type, settings: { currency } })}
        />
      )}
      {isNumbered(kind) && (
        <>
          <TextField
            label={say('Prefix')}
            placeholder={say('such as CARD-')}
            value={String(settings.prefix ?? '')}
            onChange={(event) => set({ prefix: event.target.value })}
          />
          <CheckField
            label={say('With the year')}
            checked={settings.withYear !== false}
            onChange={(withYear) => set({ withYear })}
          />
        </>
      )}
    </>
  );
}

const OWN = '';

/** Where the choices of a field come from: words of its own, or a level of an option list. */
function ChoiceSource({
  kind: { type, settings },
  lists: tables,
  withoutWords,
  onChange,
}: Pick<TypeControlsProps, 'kind' | 'withoutWords' | 'onChange'> & { lists: readonly TableDefinition[] }) {
  const lists = tables.filter((one) => one.kind === 'list');
  const level = levelOf(settings);
  const list = lists.find((one) => one.id === level?.table);
  const [typed, setTyped] = useState(writeItems((settings.choices as string[] | undefined) ?? []));
  return (
    <>
      {takesWord({ type }) && lists.length > 0 && (
        <SelectField
          label={say('Choices from')}
          value={level?.table ?? OWN}
          options={[
            { value: OWN, label: withoutWords ? say('The values of the field') : say('Choices written here') },
            ...lists.map((one) => ({ value: one.id, label: one.label, group: say('Option lists') })),
          ]}
          onChange={(table) => {
            const column = lists.find((one) => one.id === table)?.fields[0]?.id;
            onChange({
              type,
              settings:
                column === undefined ? { choices: readItems(typed) } : { choices: [], level: { table, column } },
            });
          }}
        />
      )}
      {level && list && (
        <SelectField
          label={say('Level')}
          value={level.column}
          options={list.fields.map((one, at) => ({ value: one.id, label: `${at + 1}. ${one.label}` }))}
          help={list.fields[0]?.id === level.column ? undefined : say('Narrowed by the levels above it.')}
          onChange={(column) => onChange({ type, settings: { choices: [], level: { table: list.id, column } } })}
        />
      )}
      {!level && !withoutWords && (
        <TextField
          label={say('Choices')}
          multiline
          maxRows={4}
          placeholder={say('Scrub, Paint, Repair')}
          helperText={say('Separated by commas; in quotes where a choice has a comma.')}
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            onChange({ type, settings: { ...settings, choices: readItems(event.target.value) } });
          }}
        />
      )}
    </>
  );
}
