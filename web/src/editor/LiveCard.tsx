import type { EntryAnswer } from '@fiche/core/api';
import { carryOver, type EntryState, type Opening, openEntry } from '@fiche/core/entry';
import { type PreparedForm, prepareForm, withoutDestinations } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow, formatCount } from '@fiche/core/office';
import type { FieldId, TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { clsx } from 'clsx';
import { useEffect, useMemo, useState } from 'react';
import { useOffice } from '../client/index.ts';
import { EntryFields, ProblemList, ReasonList, SeveralFound, useEntry } from '../entry/index.ts';
import { Card, cardCss, pageCss, SelectField, sayWith, textCss } from '../parts/index.ts';
import { type PlacedRecord, usePlaceNumbers } from '../records/index.ts';
import liveCardCss from './liveCard.module.css';
import { formOfRole, RoleNote } from './RoleNote.tsx';
import { type RecordToTry, useTriedRecord } from './useTriedRecord.ts';

interface LiveCardProps {
  readonly form: PreparedForm;
  readonly id: string;
  /** A published version that is only looked at and tried; the draft without. */
  readonly version?: number;
  /** False while the draft that this card runs is still being saved. */
  readonly ready: boolean;
  readonly selected?: string;
  onSelect(item: string): void;
  onWhy(field: FieldId): void;
  /** What stands on the card, for the sentences beside it. */
  onState(state: EntryState): void;
}

/** The form as it will be, on real data: blank or on a record, as any role. Trying asks the server and writes nothing. */
export function LiveCard({ form: whole, id, version, ready, selected, onSelect, onWhy, onState }: LiveCardProps) {
  const { cabinet } = useOffice();
  const [narrow, setNarrow] = useState(false);
  const [role, setRole] = useState('');
  const asRole = cabinet.roles.find((one) => one.id === role)?.definition;
  const [said, setSaid] = useState('');
  const [written, setWritten] = useState<EntryAnswer['written']>();
  const { record, open } = useTriedRecord(whole.stored?.get(whole.table.id) ?? whole.table, id, version);
  const { form, opening } = useTriedForm(whole, role, record);
  const entry = useEntry({
    form,
    opening,
    base: `/api/forms/${id}/draft`,
    formVersion: version,
    as: role === '' ? undefined : role,
    onSaved: (answer) => {
      setWritten(answer.written);
      setSaid(say('This would be saved. Trying writes nothing.'));
    },
  });
  const { replace, state, dispatch } = entry;
  useEffect(() => {
    if (state.opening !== opening) replace(openEntry(form, opening));
    else if (state.form !== form) replace(carryOver(form, state));
  }, [form, opening, state, replace]);
  useEffect(() => onState(state), [state, onState]);
  // The server has let it through: the card is open for the next try.
  useEffect(() => {
    if (said !== '' && state.phase.kind === 'saving') dispatch({ type: 'refused', problems: [] });
  }, [said, state.phase, dispatch]);
  return (
    <div className={clsx(liveCardCss.card, narrow && liveCardCss.narrow)}>
      <TryBar
        record={record}
        table={whole.table.id}
        role={role}
        narrow={narrow}
        onOpen={(which) => {
          setSaid('');
          void open(which);
        }}
        onRole={setRole}
        onNarrow={setNarrow}
      />
      {asRole && <RoleNote role={asRole} whole={whole} form={form} />}
      <Card
        title={form.definition.label}
        mark={record && <span className={clsx(textCss.mono, textCss.faded)}>{record.title}</span>}
        end={version !== undefined && <span className={textCss.faded}>{say('version {version}', { version })}</span>}
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
        {entry.several && (
          <SeveralFound
            several={entry.several}
            then={say('try again')}
            onChosen={(record) => entry.several && entry.chooseRecord(entry.several.destination, record)}
          />
        )}
        {entry.trouble && (
          <p className={clsx(cardCss.section, textCss.problem)} role="alert">
            {entry.trouble}
          </p>
        )}
        {said !== '' && written && <WouldWrite written={written} />}
        <TryFoot
          said={said}
          ready={ready}
          onAct={(type) => {
            setSaid('');
            setWritten(undefined);
            dispatch({ type });
          }}
        />
      </Card>
    </div>
  );
}

/** The form as a role has it, and what its card is opened on: a record, or nothing. */
function useTriedForm(whole: PreparedForm, role: string, record: PlacedRecord | undefined) {
  const { session, cabinet } = useOffice();
  const asRole = cabinet.roles.find((one) => one.id === role)?.definition;
  const form = useMemo(() => {
    // A record that is there is opened by its own fields.
    const ran = record && whole.stored ? prepareForm(withoutDestinations(whole.definition), whole.stored) : whole;
    return asRole ? formOfRole(asRole, ran) : ran;
  }, [asRole, whole, record]);
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
  return { form, opening };
}

const DID = {
  added: say('would be added to'),
  found: say('is found in'),
  changed: say('would be changed in'),
} as const;

/** The records that a form with destinations would write or find, with their values. */
function WouldWrite({ written }: { readonly written: NonNullable<EntryAnswer['written']> }) {
  return (
    <section className={cardCss.section} aria-label={say('Records that would be written')}>
      <h3>{say('What would be written')}</h3>
      <ol>
        {written.map(({ table, did, values }) => (
          <li key={`${table} ${did} ${JSON.stringify(values)}`}>
            {sayWith('A record {did} {name}{count}{list}', {
              did: DID[did],
              name: <strong>{table}</strong>,
              count: values.length > 0 && ': ',
              list: values.map(({ label, value }) => `${label} ${value}`).join(', '),
            })}
          </li>
        ))}
      </ol>
    </section>
  );
}

interface TryBarProps {
  readonly record: PlacedRecord | undefined;
  readonly table: TableId;
  readonly role: string;
  readonly narrow: boolean;
  onOpen(which: RecordToTry): void;
  onRole(role: string): void;
  onNarrow(narrow: boolean): void;
}

/** What the card is tried on, as which role, how wide. */
function TryBar({ record, table, role, narrow, onOpen, onRole, onNarrow }: TryBarProps) {
  const numbers = usePlaceNumbers(table, record);
  const { cabinet } = useOffice();
  return (
    <div className={liveCardCss.line}>
      <ToggleButtonGroup
        value={record ? 'record' : 'blank'}
        aria-label={say('What the card is tried on')}
        onChange={(_event, next: string | null) => next && onOpen(next === 'record' ? 'first' : null)}
      >
        <ToggleButton value="blank">{say('Blank')}</ToggleButton>
        <ToggleButton value="record">{say('A record')}</ToggleButton>
      </ToggleButtonGroup>
      {record && (
        <span className={pageCss.neighbours}>
          <Step to={record.place.previous} sign="‹" words={say('Previous record')} onOpen={onOpen} />
          {numbers && (
            <span>
              {say('{position} of {total}', {
                position: formatCount(numbers.position),
                total: formatCount(numbers.total),
              })}
            </span>
          )}
          <Step to={record.place.next} sign="›" words={say('Next record')} onOpen={onOpen} />
        </span>
      )}
      <SelectField
        hiddenLabel
        label={say('As which role')}
        value={role}
        options={[
          { value: '', label: say('as myself') },
          ...cabinet.roles.map((one) => ({ value: one.id, label: say('as {label}', { label: one.label }) })),
          { value: 'public', label: say('as the public') },
        ]}
        onChange={onRole}
      />
      <ToggleButtonGroup
        className={liveCardCss.end}
        value={narrow ? 'phone' : 'wide'}
        aria-label={say('Width of the card')}
        onChange={(_event, next: string | null) => next && onNarrow(next === 'phone')}
      >
        <ToggleButton value="wide">{say('Wide')}</ToggleButton>
        <ToggleButton value="phone">{say('Phone')}</ToggleButton>
      </ToggleButtonGroup>
    </div>
  );
}

interface StepProps {
  readonly to: number | null;
  readonly sign: string;
  readonly words: string;
  onOpen(which: RecordToTry): void;
}

function Step({ to, sign, words, onOpen }: StepProps) {
  return (
    <IconButton aria-label={words} disabled={to === null} onClick={() => onOpen(to)}>
      {sign}
    </IconButton>
  );
}

interface TryFootProps {
  readonly said: string;
  readonly ready: boolean;
  onAct(what: 'reset' | 'savePressed'): void;
}

/** What the last try gave, and the next one. */
function TryFoot({ said, ready, onAct }: TryFootProps) {
  return (
    <footer className={cardCss.foot}>
      <span className={textCss.faded} role="status">
        {said}
      </span>
      <div className={cardCss.end}>
        <Button variant="text" onClick={() => onAct('reset')}>
          {say('Reset')}
        </Button>
        <Button disabled={!ready} onClick={() => onAct('savePressed')}>
          {say('Try saving')}
        </Button>
      </div>
    </footer>
  );
}
