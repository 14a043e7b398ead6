import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import FormControl from '@mui/material/FormControl';
import FormHelperText from '@mui/material/FormHelperText';
import InputLabel from '@mui/material/InputLabel';
import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import { type Filled, FilledDot } from './FilledDot.tsx';
import ruledCss from './ruled.module.css';
import textCss from './text.module.css';

interface RuledFieldProps {
  readonly id: string;
  readonly label: string;
  readonly required?: boolean;
  readonly readOnly?: boolean;
  readonly help?: string;
  readonly problem?: string;
  /** True when the problem is let through with a reason. */
  readonly asks?: boolean;
  /** What Fiche did here by itself: cleared, found nothing. */
  readonly notice?: string;
  /** What filled this field, in words. */
  readonly filled?: Filled;
  /** What a person has to decide about the field, below it. */
  readonly ask?: ReactNode;
  /** Something else on the form fills it. */
  readonly isFilled?: boolean;
  readonly children: ReactNode;
}

/** Ids of the texts that describe an input, for aria-describedby. */
export const describedBy = (id: string): string => `${id}-said`;

/** Label above in faded ink, value on a ruled line, and below it what has to be said. */
export function RuledField({
  id,
  label,
  required,
  readOnly,
  help,
  problem,
  asks,
  notice,
  filled,
  ask,
  isFilled,
  children,
}: RuledFieldProps) {
  return (
    <FormControl
      fullWidth
      error={problem !== undefined && !asks}
      className={clsx(
        ruledCss.ruled,
        readOnly && ruledCss.readOnly,
        problem && (asks ? ruledCss.asks : ruledCss.wrong),
      )}
      data-field={id}
      data-invalid={(problem && !asks) || undefined}
      data-filled={isFilled || undefined}
    >
      <InputLabel className={ruledCss.label} htmlFor={id} id={`${id}-label`}>
        {required && <span className={textCss.tick} aria-hidden="true" />}
        {label}
        {required && <span className={textCss.visuallyHidden}> ({say('required')})</span>}
      </InputLabel>
      <div className={ruledCss.line}>
        {children}
        {filled && <FilledDot filled={filled} />}
      </div>
      <div id={describedBy(id)} aria-live="polite">
        {problem && (
          <FormHelperText component="div" className={asks ? textCss.asks : textCss.problem}>
            {asks && <span aria-hidden="true">? </span>}
            {problem}
          </FormHelperText>
        )}
        {notice && (
          <FormHelperText component="div" className={textCss.notice}>
            {notice}
          </FormHelperText>
        )}
        {help && !problem && !notice && !filled?.differs && (
          <FormHelperText component="div" className={ruledCss.help}>
            {help}
          </FormHelperText>
        )}
      </div>
      {filled && (
        <div className={clsx(ruledCss.filled, filled.differs && ruledCss.differs)}>
          {filled.words}
          {filled.again && (
            <Button variant="text" onClick={filled.onAgain}>
              {filled.again}
            </Button>
          )}
        </div>
      )}
      {ask}
    </FormControl>
  );
}
