import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import { type ColumnCalculation, calculatedField } from '@fiche/core/views';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import { FieldInput, RuledField, SelectField, textCss } from '../parts/index.ts';
import { ExpressionEditor } from '../sentences/index.ts';
import listingCss from './listing.module.css';

interface Props {
  readonly table: TableDefinition;
  /** The column that is changed; a new one without. */
  readonly calculation?: ColumnCalculation;
  onSet(calculation: ColumnCalculation): void;
  onClose(): void;
}

const SHOWN: readonly { readonly value: ColumnCalculation['as']; readonly label: string }[] = [
  { value: 'decimal', label: say('a number') },
  { value: 'text', label: say('text') },
  { value: 'yesNo', label: say('yes or no') },
  { value: 'date', label: say('a date') },
  { value: 'dateTime', label: say('a date and time') },
];
const PLACES = [0, 1, 2, 3, 4, 5, 6].map((places) => ({ value: String(places), label: String(places) }));
const NEW: ColumnCalculation = { label: '', source: '', as: 'decimal', places: 2 };

/** A column that a formula calculates: its heading, how it is shown, and the formula, which ends it. */
export function CalculatedColumn({ table, calculation = NEW, onSet, onClose }: Props) {
  const { tables } = useOffice();
  const [draft, setDraft] = useState(calculation);
  const named = draft.label.trim() !== '';
  return (
    <fieldset className={listingCss.calculated}>
      <legend>
        {calculation === NEW
          ? say('New calculated column')
          : say('Calculated column {label}', { label: calculation.label })}
      </legend>
      <RuledField id="calculated-label" label={say('Heading')} required>
        <FieldInput
          id="calculated-label"
          autoFocus
          value={draft.label}
          onChange={(event) => setDraft({ ...draft, label: event.target.value })}
        />
      </RuledField>
      <SelectField
        label={say('Shown as')}
        value={draft.as}
        options={[...SHOWN]}
        onChange={(as) => setDraft({ ...draft, as: SHOWN.find((one) => one.value === as)?.value ?? 'text' })}
      />
      {draft.as === 'decimal' && (
        <SelectField
          label={say('Decimals')}
          value={String(draft.places)}
          options={PLACES}
          onChange={(places) => setDraft({ ...draft, places: Number(places) })}
        />
      )}
      {named ? (
        <ExpressionEditor
          key={draft.as}
          label={say('Formula for {label}', { label: draft.label })}
          current={draft.source}
          fields={table.fields}
          tables={tables}
          into={calculatedField('=1', draft)}
          now={civilNow()}
          onSet={(source) => onSet({ ...draft, label: draft.label.trim(), source })}
          onClose={onClose}
        />
      ) : (
        <p className={textCss.faded}>
          {say('Give it a heading, then write the formula.')}{' '}
          <Button variant="text" onClick={onClose}>
            {say('Cancel')}
          </Button>
        </p>
      )}
    </fieldset>
  );
}
