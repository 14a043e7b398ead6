import { COMMON_SHEETS, type LabelSheet, sheetWords } from '@fiche/core/labels';
import { say } from '@fiche/core/languages';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { SelectField } from '../parts/index.ts';
import exportsCss from './exports.module.css';
import { PAPER_OPTIONS, paperNamed } from './PrintPart.tsx';

interface MeasuresProps {
  readonly sheet: LabelSheet;
  readonly problems: Readonly<Record<string, string>> | undefined;
  onChange(sheet: LabelSheet): void;
}

const OTHER = 'other';

/** The numbers that a sheet of labels is known by, as its package tells them. */
const MEASURES = [
  ['columns', say('Labels across')],
  ['rows', say('Labels down')],
  ['width', say('Width, mm')],
  ['height', say('Height, mm')],
  ['gapX', say('Gap across, mm')],
  ['gapY', say('Gap down, mm')],
  ['left', say('Left margin, mm')],
  ['top', say('Top margin, mm')],
] as const satisfies readonly (readonly [keyof LabelSheet, string])[];

/** Which sheets the labels are on: a common one, or one by its measures. */
export function SheetMeasures({ sheet, problems, onChange }: MeasuresProps) {
  const common = COMMON_SHEETS.findIndex((one) => JSON.stringify(one) === JSON.stringify(sheet));
  const [other, setOther] = useState(false);
  const shown = other || common < 0;
  return (
    <>
      <SelectField
        label={say('Sheet')}
        value={shown ? OTHER : String(common)}
        options={[
          ...COMMON_SHEETS.map((one, at) => ({ value: String(at), label: sheetWords(one) })),
          { value: OTHER, label: say('Other measures') },
        ]}
        onChange={(to) => {
          setOther(to === OTHER);
          const found = COMMON_SHEETS[Number(to)];
          if (to !== OTHER && found) onChange(found);
        }}
      />
      {shown && (
        <fieldset className={exportsCss.measures}>
          <legend>{say('Measures, as they stand on the package')}</legend>
          <SelectField
            label={say('Paper')}
            value={sheet.paper}
            options={PAPER_OPTIONS}
            onChange={(paper) => onChange({ ...sheet, paper: paperNamed(paper) })}
          />
          {MEASURES.map(([measure, label]) => (
            <MeasureInput
              key={measure}
              label={label}
              value={sheet[measure]}
              whole={measure === 'columns' || measure === 'rows'}
              problem={problems?.[`layout.sheet.${measure}`]}
              onChange={(value) => onChange({ ...sheet, [measure]: value })}
            />
          ))}
        </fieldset>
      )}
    </>
  );
}

interface MeasureProps {
  readonly label: string;
  readonly value: number;
  readonly whole: boolean;
  readonly problem: string | undefined;
  onChange(value: number): void;
}

/** A number that can be blank while it is typed. */
function MeasureInput({ label, value, whole, problem, onChange }: MeasureProps) {
  const [text, setText] = useState(String(value));
  const shown = Number(text) === value ? text : String(value);
  return (
    <TextField
      type="number"
      label={label}
      value={text === '' ? '' : shown}
      error={problem !== undefined}
      helperText={problem}
      slotProps={{ htmlInput: { min: 0, step: whole ? 1 : 'any' } }}
      onChange={(event) => {
        setText(event.target.value);
        const number = Number(event.target.value);
        if (event.target.value !== '' && Number.isFinite(number)) onChange(number);
      }}
    />
  );
}
