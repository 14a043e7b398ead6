import { say } from '@fiche/core/languages';
import { currentOffice, writingOf } from '@fiche/core/office';
import { typeOf } from '@fiche/core/tables';
import CalendarIcon from '@mui/icons-material/CalendarTodayOutlined';
import ClockIcon from '@mui/icons-material/ScheduleOutlined';
import IconButton from '@mui/material/IconButton';
import { lazy, Suspense, useRef, useState } from 'react';
import { FieldInput } from '../parts/index.ts';
import datesCss from './dates.module.css';
import type { InputProps } from './input.ts';
import { connected, TextInput } from './TextInput.tsx';

const DatePicker = lazy(() => import('./DatePicker.tsx'));

/** Phones bring their own picker of dates. */
const onPhone = (): boolean => window.matchMedia('(pointer: coarse)').matches;

const DAY_SHAPES = {
  dayFirst: () => say('dd/mm/yyyy'),
  monthFirst: () => say('mm/dd/yyyy'),
  yearFirst: () => say('yyyy-mm-dd'),
} as const;

/** How a date, time or both is typed in the office’s locale: `dd/mm/yyyy hh:mm`. */
function shapeOf(type: string): string {
  const day = DAY_SHAPES[writingOf(currentOffice().locale).order]();
  const time = say('hh:mm');
  return type === 'time' ? time : type === 'date' ? day : `${day} ${time}`;
}

/** A date, a time, or both: typed, or picked from a calendar that its button or Alt+↓ opens. */
export function DateInput(props: InputProps) {
  return onPhone() ? <SystemDateInput {...props} /> : <TypedDateInput {...props} />;
}

function TypedDateInput(props: InputProps) {
  const { field, value, id, onChanged } = props;
  const { type } = field.field;
  const [open, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const close = (): void => {
    setOpen(false);
    document.getElementById(id)?.focus();
  };
  return (
    <>
      <TextInput
        {...props}
        more={{
          placeholder: shapeOf(type),
          onKeyDown: (event) => {
            if (event.key !== 'ArrowDown' || !event.altKey || event.ctrlKey) return;
            event.preventDefault();
            event.stopPropagation();
            setOpen(true);
          },
        }}
        end={
          <IconButton
            ref={button}
            className={datesCss.button}
            tabIndex={-1}
            aria-label={say('Pick {field}', { field: field.label })}
            aria-haspopup="dialog"
            // The field keeps the focus until the calendar has it.
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => setOpen(true)}
          >
            {type === 'time' ? <ClockIcon /> : <CalendarIcon />}
          </IconButton>
        }
      />
      {open && (
        <Suspense>
          <DatePicker
            kind={type === 'time' || type === 'date' ? type : 'dateTime'}
            label={field.label}
            value={typeof value === 'string' ? value : null}
            anchor={() => button.current}
            onPick={(picked) => onChanged(picked)}
            onClose={close}
          />
        </Suspense>
      )}
    </>
  );
}

function SystemDateInput(props: InputProps) {
  const { field, value, onChanged, onLeft } = props;
  const { type } = field.field;
  return (
    <FieldInput
      {...connected(props)}
      type={type === 'dateTime' ? 'datetime-local' : type}
      value={String(value ?? '')}
      onBlur={onLeft}
      onChange={(event) => {
        const read = typeOf(field.field).accept(
          event.target.value === '' ? null : event.target.value.slice(0, 16),
          field.field.settings,
        );
        if (read.ok) onChanged(read.value);
      }}
    />
  );
}
