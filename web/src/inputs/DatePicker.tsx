import { say } from '@fiche/core/languages';
import { civilNow, currentOffice } from '@fiche/core/office';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { AdapterDateFns } from '@mui/x-date-pickers/AdapterDateFns';
import { DateCalendar } from '@mui/x-date-pickers/DateCalendar';
import { DigitalClock } from '@mui/x-date-pickers/DigitalClock';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import { format, type Locale, parse } from 'date-fns';
import { useEffect, useState } from 'react';
import { dateLocale } from './dateLocale.ts';
import datesCss from './dates.module.css';

interface DatePickerProps {
  readonly kind: 'date' | 'time' | 'dateTime';
  readonly label: string;
  /** A civil value as core writes it: `2026-08-17`, `09:30`, `2026-08-17T09:30`. */
  readonly value: string | null;
  anchor(): Element | null;
  onPick(value: string): void;
  onClose(): void;
}

const SHAPES = { date: 'yyyy-MM-dd', time: 'HH:mm', dateTime: "yyyy-MM-dd'T'HH:mm" } as const;

/** A calendar, a list of times, or both side by side, in the office’s locale; Esc and a click outside close it. */
export default function DatePicker({ kind, label, value, anchor, onPick, onClose }: DatePickerProps) {
  const shape = SHAPES[kind];
  const [locale, setLocale] = useState<Locale>();
  useEffect(() => {
    void dateLocale(currentOffice().locale).then(setLocale);
  }, []);
  // Today and the present hour are those of the office, not of this machine.
  const now = parse(civilNow().slice(0, 16), SHAPES.dateTime, new Date(0));
  const current = value === null ? null : parse(value, shape, now);
  const pick = (next: Date | null, done: boolean): void => {
    if (!next) return;
    onPick(format(next, shape));
    if (done) onClose();
  };
  const withDay = (day: Date): Date => {
    const at = new Date(current ?? now);
    at.setFullYear(day.getFullYear(), day.getMonth(), day.getDate());
    return at;
  };
  if (!locale) return null;
  return (
    <Popover
      open
      anchorEl={anchor}
      onClose={onClose}
      anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
      transformOrigin={{ vertical: 'top', horizontal: 'right' }}
      transitionDuration={0}
      slotProps={{ paper: { role: 'dialog', 'aria-label': say('Pick {field}', { field: label }) } }}
    >
      <LocalizationProvider dateAdapter={AdapterDateFns} adapterLocale={locale}>
        <div className={datesCss.picker}>
          {kind !== 'time' && (
            <DateCalendar
              autoFocus
              value={current}
              referenceDate={now}
              reduceAnimations
              onChange={(next, state) =>
                next && pick(kind === 'date' ? next : withDay(next), kind === 'date' && state === 'finish')
              }
            />
          )}
          {kind !== 'date' && (
            <DigitalClock
              autoFocus={kind === 'time'}
              ampm={false}
              timeStep={15}
              value={current}
              referenceDate={now}
              onChange={(next, state) => pick(next, state === 'finish')}
            />
          )}
        </div>
        <div className={datesCss.acts}>
          <Button variant="text" onClick={() => pick(now, true)}>
            {kind === 'date' ? say('Today') : say('Now')}
          </Button>
          <Button variant="text" onClick={onClose}>
            {say('Done')}
          </Button>
        </div>
      </LocalizationProvider>
    </Popover>
  );
}
