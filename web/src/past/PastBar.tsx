import { dateTime, parseDateTime } from '@fiche/core/fields';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { clsx } from 'clsx';
import { type ReactNode, useState } from 'react';
import { textCss } from '../parts/index.ts';
import pastCss from './past.module.css';
import { inputOf } from './usePast.ts';

interface PastBarProps {
  readonly asOf: string;
  onChange(moment: string): void;
  onClose(): void;
  /** Further acts beside the moment. */
  readonly children?: ReactNode;
}

/** Says of which moment a list or a card is shown, in the plum of the past; another one is chosen here. */
export function PastBar({ asOf, onChange, onClose, children }: PastBarProps) {
  return (
    <section className={pastCss.bar} aria-label="A moment of the past">
      <strong>As it stood on</strong>
      <MomentInput key={asOf} label="Moment" moment={asOf} onSet={onChange} />
      {children}
      <span className={clsx(textCss.faded, pastCss.note)}>Only to look at, by your rights of today.</span>
      <Button variant="text" onClick={onClose}>
        Back to today
      </Button>
    </section>
  );
}

interface MomentInputProps {
  readonly label: string;
  readonly moment: string;
  onSet(moment: string): void;
}

/** A day and a time as the office writes them, taken when it is left or Enter is pressed. */
export function MomentInput({ label, moment, onSet }: MomentInputProps) {
  const shown = dateTime.format(inputOf(moment), {});
  const [typed, setTyped] = useState(shown);
  const read = parseDateTime(typed);
  const take = (): void => {
    if (typed !== shown && read.ok && typeof read.value === 'string') onSet(read.value);
  };
  return (
    <TextField
      size="small"
      value={typed}
      error={!read.ok}
      helperText={read.ok ? undefined : read.message}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => event.key === 'Enter' && take()}
      slotProps={{ htmlInput: { 'aria-label': label } }}
    />
  );
}
