import { dateTime, parseDateTime } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import { ParsedInput, textCss } from '../parts/index.ts';
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
    <section className={pastCss.bar} aria-label={say('A moment of the past')}>
      <strong>{say('As it stood on')}</strong>
      <MomentInput key={asOf} label={say('Moment')} moment={asOf} onSet={onChange} />
      {children}
      <span className={clsx(textCss.faded, pastCss.note)}>{say('Only to look at, by your rights of today.')}</span>
      <Button variant="text" onClick={onClose}>
        {say('Back to today')}
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
  return <ParsedInput label={label} shown={dateTime.format(inputOf(moment), {})} parse={parseDateTime} onSet={onSet} />;
}
