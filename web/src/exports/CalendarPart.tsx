import type { CalendarView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { NO_PROBLEMS, placedProblems, send } from '../client/index.ts';
import { settingsCss, showMoment, textCss, useNotify } from '../parts/index.ts';
import { DatesOfCalendar, useCalendarDates } from './DatesOfCalendar.tsx';
import exportsCss from './exports.module.css';
import type { SelectedRecords } from './selectedRecords.ts';

interface PartProps {
  readonly table: TableDefinition;
  readonly records: SelectedRecords;
  readonly name: string;
}

/** Private addresses from which a calendar program reads the list, for as long as they are not revoked. */
export function CalendarPart({ table, records, name }: PartProps) {
  const url = `/api/tables/${table.id}/calendars`;
  const client = useQueryClient();
  const notify = useNotify();
  const dates = useCalendarDates(table, records.listing);
  // Called like the list, until somebody says otherwise: another view may still be on its way.
  const [typed, setLabel] = useState<string>();
  const label = typed ?? name;
  const [made, setMade] = useState<CalendarView & { readonly address: string }>();
  const [problems, setProblems] = useState(NO_PROBLEMS);
  const known = useQuery({
    queryKey: ['calendars', table.id],
    queryFn: () => send<{ calendars: CalendarView[] }>('GET', url),
  });
  const refresh = (): Promise<void> => client.invalidateQueries({ queryKey: ['calendars', table.id] });
  const make = async (): Promise<void> => {
    setProblems(NO_PROBLEMS);
    try {
      const { listing, search } = records;
      setMade(await send('POST', url, { label, listing, search, ...dates.chosen }));
      await refresh();
    } catch (error) {
      setProblems(placedProblems(error, ['label', 'begins', 'ends']));
    }
  };
  const revoke = async (one: CalendarView): Promise<void> => {
    try {
      await send('DELETE', `${url}/${one.id}`);
      if (made?.id === one.id) setMade(undefined);
      notify(say('The address of {label} is revoked.', { label: one.label }));
      await refresh();
    } catch (error) {
      notify((error as Error).message);
    }
  };
  return (
    <>
      <form
        className={settingsCss.form}
        aria-label={say('Calendar address')}
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void make();
        }}
      >
        <p className={textCss.faded}>
          {say(
            'A calendar program that knows the address shows all that this list finds, and follows its changes. It sees what your role sees. Give the address to nobody who may not see that.',
          )}
        </p>
        <TextField
          label={say('Name of the calendar')}
          value={label}
          autoComplete="off"
          error={problems.at.label !== undefined}
          helperText={problems.at.label}
          onChange={(event) => setLabel(event.target.value)}
        />
        <DatesOfCalendar dates={dates} problems={problems} />
        {problems.trouble && <Alert severity="error">{problems.trouble}</Alert>}
        <div className={settingsCss.acts}>
          <Button type="submit" variant="contained" disabled={dates.options.length === 0}>
            {say('Make an address')}
          </Button>
        </div>
      </form>
      {made && <MadeAddress key={made.id} address={made.address} />}
      <h3 className={exportsCss.part}>{say('Your addresses of this table')}</h3>
      {known.data?.calendars.length === 0 && <p className={textCss.faded}>{say('None yet.')}</p>}
      <ul className={exportsCss.calendars}>
        {known.data?.calendars.map((one) => (
          <li key={one.id}>
            <span>
              <strong>{one.label}</strong>
              <br />
              <span className={textCss.faded}>
                {say('{dates} · made {madeAt}', { dates: one.dates, madeAt: showMoment(one.madeAt) })}
              </span>
            </span>
            <Button
              variant="text"
              aria-label={say('Revoke the address of {label}', { label: one.label })}
              onClick={() => void revoke(one)}
            >
              {say('Revoke')}
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}

/** The address that was made, which is told this once. */
function MadeAddress({ address }: { readonly address: string }) {
  const notify = useNotify();
  return (
    <div className={exportsCss.made} role="status">
      <TextField
        label={say('The address, shown this once')}
        value={address}
        fullWidth
        slotProps={{
          htmlInput: { readOnly: true, onFocus: (event: { target: HTMLInputElement }) => event.target.select() },
        }}
      />
      {navigator.clipboard && (
        <Button
          onClick={() => void navigator.clipboard.writeText(address).then(() => notify(say('The address is copied.')))}
        >
          {say('Copy')}
        </Button>
      )}
    </div>
  );
}
