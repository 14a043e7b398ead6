import { say } from '@fiche/core/languages';
import BackIcon from '@mui/icons-material/ChevronLeft';
import ForwardIcon from '@mui/icons-material/ChevronRight';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import type { ReactNode } from 'react';
import calendarCss from './calendar.module.css';

interface TimeBarProps<S extends string> {
  /** Which time is shown, in words. */
  readonly words: string;
  readonly span: S;
  readonly spans: Readonly<Record<S, string>>;
  readonly children?: ReactNode;
  onBeside(direction: 1 | -1): void;
  onToday(): void;
  onSpan(span: S): void;
}

/** Goes through time: earlier, today, later, and how much of it is seen. */
export function TimeBar<S extends string>(props: TimeBarProps<S>) {
  const { words, span, spans, children, onBeside, onToday, onSpan } = props;
  return (
    <div className={calendarCss.bar}>
      <IconButton aria-label={say('Earlier')} onClick={() => onBeside(-1)}>
        <BackIcon />
      </IconButton>
      <Button onClick={onToday}>{say('Today')}</Button>
      <IconButton aria-label={say('Later')} onClick={() => onBeside(1)}>
        <ForwardIcon />
      </IconButton>
      <strong>{words}</strong>
      <ToggleButtonGroup exclusive size="small" value={span} aria-label={say('How much is seen')}>
        {(Object.keys(spans) as S[]).map((one) => (
          <ToggleButton key={one} value={one} onClick={() => onSpan(one)}>
            {spans[one]}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {children}
    </div>
  );
}
