import type { RecordView } from '@fiche/core/api';
import { carryOver, type EntryState, type Opening, openEntry } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { civilNow } from '@fiche/core/office';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { clsx } from 'clsx';
import { useEffect, useMemo, useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { EntryFields, ProblemList, ReasonList, useEntry } from '../entry/index.ts';
import { Card, cardCss, pageCss, SelectField, textCss, useNotify } from '../parts/index.ts';
import liveCardCss from './liveCard.module.css';

interface LiveCardProps {
  readonly form: PreparedForm;
  readonly id: string;
  /** A published version that is only looked at and tried; the draft without. */
  readonly version?: number;
  /** False while the draft that this card runs is still being saved. */
  readonly ready: boolean;
  readonly selected?: string;
  onSelect(item: string): void;
  onWhy(field: string): void;
  /** What stands on the card, for the sentences beside it. */
  onState(state: EntryState): void;
}

type Placed = RecordView & {
  readonly place: { position: number; total: number; previous: number | null; next: number | null };
};

/** The form as it will be, on real data: blank or on a record, as any role. Trying asks the server and writes nothing. */
export function LiveCard({ form, id, version, ready, selected, onSelect, onWhy, onState }: LiveCardProps) {
  const { session, cabinet } = useOffice();
  const notify = useNotify();
  const [narrow, setNarrow] = useState(false);
  const [role, setRole] = useState('');
  const [record, setRecord] = useState<Placed>();
  const [said, setSaid] = useState('');
  const opening = useMemo(
    (): Opening => ({
      account: role === 'public' ? null : session.login,
      now: civilNow(),
      record: record
        ? {
            id: record.id,
            version: record.version,
            values: record.values,
            linked: record.linked,
            origins: record.origins,
          }
        : null,
      lines: record?.lines,
    }),
    [session.login, role, record],
  );
  const entry = useEntry({
    form,
    opening,
    base: `/api/forms/${id}/draft`,
    formVersion: version,
    as: role === '' ? undefined : role,
    onSaved: () => setSaid('This would be saved. Trying writes nothing.'),
  });
  const { replace, state, dispatch } = entry;
  useEffect(() => {
    if (state.opening !== opening) replace(openEntry(form, opening));
    else if (state.form !== form) replace(carryOver(form, state));
  }, [form, opening, state, replace]);
  useEffect(() => onState(state), [state, onState]);
  // The server has let it through: the card is open for the next try.
  useEffect(() => {
    if (said !== '' && state.phase === 'saving') dispatch({ type: 'refused', problems: [] });
  }, [said, state.phase, dispatch]);
  const openRecord = async (which: number | null | 'first'): Promise<void> => {
    setSaid('');
    if (which === null) return setRecord(undefined);
    const base = `/api/tables/${form.table.id}/records`;
    try {
      const first =
        which === 'first' ? (await send<{ records: RecordView[] }>('GET', `${base}?limit=1`)).records[0]?.id : which;
      if (first === undefined) return notify(`${form.table.label} has no records yet.`);
      const reads = `?form=${id}${version === undefined ? '' : `&version=${version}`}`;
      setRecord(await send<Placed>('GET', `${base}/${first}${reads}`));
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const step = (to: number | null | undefined, sign: string, words: string) => (
    <IconButton
      aria-label={words}
      disabled={to === null || to === undefined}
      onClick={() => void openRecord(to ?? null)}
    >
      {sign}
    </IconButton>
  );
  return (
    <div className={clsx(liveCardCss.card, narrow && liveCardCss.narrow)}>
      <div className={liveCardCss.line}>
        <ToggleButtonGroup
          value={record ? 'record' : 'blank'}
          aria-label="What the card is tried on"
          onChange={(_event, next: string | null) => next && void openRecord(next === 'record' ? 'first' : null)}
        >
          <ToggleButton value="blank">Blank</ToggleButton>
          <ToggleButton value="record">A record</ToggleButton>
        </ToggleButtonGroup>
        {record && (
          <span className={pageCss.neighbours}>
            {step(record.place.previous, '‹', 'Previous record')}
            <span>
              {record.place.position} of {record.place.total}
            </span>
            {step(record.place.next, '›', 'Next record')}
          </span>
        )}
        <SelectField
          hiddenLabel
          label="As which role"
          value={role}
          options={[
            { value: '', label: 'as myself' },
            ...cabinet.roles.map((one) => ({ value: one.id, label: `as ${one.label}` })),
            { value: 'public', label: 'as the public' },
          ]}
          onChange={setRole}
        />
        <ToggleButtonGroup
          className={clsx(cardCss.end, pageCss.end, liveCardCss.end)}
          value={narrow ? 'phone' : 'wide'}
          aria-label="Width of the card"
          onChange={(_event, next: string | null) => next && setNarrow(next === 'phone')}
        >
          <ToggleButton value="wide">Wide</ToggleButton>
          <ToggleButton value="phone">Phone</ToggleButton>
        </ToggleButtonGroup>
      </div>
      <Card
        title={form.definition.label}
        mark={record && <span className={clsx(textCss.mono, textCss.faded)}>{record.title}</span>}
        end={version !== undefined && <span className={textCss.faded}>version {version}</span>}
      >
        <ProblemList entry={entry} />
        {state.form === form && (
          <EntryFields
            entry={entry}
            selected={selected}
            onSelect={onSelect}
            narrow={narrow}
            onWhy={onWhy}
            linkTo={(table, target) => `/${cabinet.id}/tables/${table}/${target}`}
          />
        )}
        <ReasonList entry={entry} />
        {entry.trouble && (
          <p className={clsx(cardCss.section, textCss.problem)} role="alert">
            {entry.trouble}
          </p>
        )}
        <footer className={cardCss.foot}>
          <span className={textCss.faded} role="status">
            {said}
          </span>
          <div className={clsx(cardCss.end, pageCss.end, liveCardCss.end)}>
            <Button
              variant="text"
              onClick={() => {
                setSaid('');
                dispatch({ type: 'reset' });
              }}
            >
              Reset
            </Button>
            <Button
              disabled={!ready}
              onClick={() => {
                setSaid('');
                dispatch({ type: 'savePressed' });
              }}
            >
              Try saving
            </Button>
          </div>
        </footer>
      </Card>
    </div>
  );
}
