import { type LabelLine, MOST_LINES, RECORD_PLACE } from '@fiche/core/labels';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import { columnsFor, isLinkedFrom } from '@fiche/core/views';
import RemoveIcon from '@mui/icons-material/Close';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import { useOffice } from '../client/index.ts';
import { CheckField, PlaceSlot, SelectField, type SlotOption } from '../parts/index.ts';
import exportsCss from './exports.module.css';

interface LinesProps {
  readonly table: TableDefinition;
  readonly lines: readonly LabelLine[];
  readonly problems: Readonly<Record<string, string>> | undefined;
  onChange(lines: readonly LabelLine[]): void;
}

const SIZES: readonly { readonly value: LabelLine['size']; readonly label: string }[] = [
  { value: 'small', label: say('small') },
  { value: 'normal', label: say('normal') },
  { value: 'large', label: say('large') },
];

/** What stands on a label, line by line: words, and fields in braces. */
export function LabelLines({ table, lines, problems, onChange }: LinesProps) {
  const { tables } = useOffice();
  const places: SlotOption[] = [
    { value: `{${RECORD_PLACE}}`, label: say('What the record is called'), detail: `{${RECORD_PLACE}}` },
    ...columnsFor(tables, table).flatMap(({ path, label, field }) =>
      field && !isLinkedFrom(path) ? [{ value: `{${path}}`, label, detail: `{${path}}` }] : [],
    ),
  ];
  const change = (at: number, to: Partial<LabelLine>): void =>
    onChange(lines.map((line, n) => (n === at ? { ...line, ...to } : line)));
  return (
    <fieldset className={exportsCss.lines}>
      <legend>{say('Lines of a label')}</legend>
      {lines.map((line, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a line is known by its place.
        <div key={at} className={exportsCss.line}>
          <TextField
            label={say('Line {at}', { at: at + 1 })}
            value={line.text}
            fullWidth
            autoComplete="off"
            error={problems?.[`layout.lines.${at}`] !== undefined}
            helperText={problems?.[`layout.lines.${at}`]}
            slotProps={{ htmlInput: { maxLength: 200 } }}
            onChange={(event) => change(at, { text: event.target.value })}
          />
          <div className={exportsCss.lineSettings}>
            <PlaceSlot
              options={places}
              label={say('value to put into line {at}', { at: at + 1 })}
              onPut={(place) =>
                change(at, { text: `${line.text}${line.text === '' || line.text.endsWith(' ') ? '' : ' '}${place}` })
              }
            />
            <SelectField
              label={say('Size of line {at}', { at: at + 1 })}
              hiddenLabel
              value={line.size}
              options={[...SIZES]}
              onChange={(to) => change(at, { size: SIZES.find((one) => one.value === to)?.value ?? 'normal' })}
            />
            <CheckField label={say('Bold')} checked={line.bold} onChange={(bold) => change(at, { bold })} />
            <IconButton
              aria-label={say('Remove line {at}', { at: at + 1 })}
              disabled={lines.length === 1}
              onClick={() => onChange(lines.filter((_line, n) => n !== at))}
            >
              <RemoveIcon />
            </IconButton>
          </div>
        </div>
      ))}
      {lines.length < MOST_LINES && (
        <Button variant="text" onClick={() => onChange([...lines, { text: '', size: 'normal', bold: false }])}>
          {say('+ Line')}
        </Button>
      )}
    </fieldset>
  );
}
