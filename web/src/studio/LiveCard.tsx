import type { RecordView } from '@fiche/core/api';
import { carryOver, type EntryState, type Opening, openEntry } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { civilNow } from '@fiche/core/office';
import { useEffect, useMemo, useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import { EntryFields, ProblemList, ReasonList, useEntry } from '../entry/index.ts';
import { Card, useSay } from '../parts/index.ts';

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
  const say = useSay();
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
      if (first === undefined) return say(`${form.table.label} has no records yet.`);
      const reads = `?form=${id}${version === undefined ? '' : `&version=${version}`}`;
      setRecord(await send<Placed>('GET', `${base}/${first}${reads}`));
    } catch (error) {
      say((error as Error).message);
    }
  };
  const step = (to: number | null | undefined, sign: string, words: string) => (
    <button
      type="button"
      className="link step"
      aria-label={words}
      disabled={to === null || to === undefined}
      onClick={() => void openRecord(to ?? null)}
    >
      {sign}
    </button>
  );
  return (
    <div className={`live-card${narrow ? ' narrow' : ''}`}>
      <div className="live-line">
        <span className="tabs" role="group" aria-label="What the card is tried on">
          <button type="button" aria-pressed={!record} onClick={() => void openRecord(null)}>
            blank
          </button>
          <button type="button" aria-pressed={record !== undefined} onClick={() => void openRecord('first')}>
            a record
          </button>
        </span>
        {record && (
          <span className="neighbours">
            {step(record.place.previous, '‹', 'Previous record')}
            <span>
              {record.place.position} of {record.place.total}
            </span>
            {step(record.place.next, '›', 'Next record')}
          </span>
        )}
        <label className="live-role">
          as{' '}
          <select value={role} onChange={(event) => setRole(event.target.value)}>
            <option value="">myself</option>
            {cabinet.roles.map((one) => (
              <option key={one.id} value={one.id}>
                {one.label}
              </option>
            ))}
            <option value="public">the public</option>
          </select>
        </label>
        <span className="tabs end" role="group" aria-label="Width of the card">
          <button type="button" aria-pressed={!narrow} onClick={() => setNarrow(false)}>
            desk
          </button>
          <button type="button" aria-pressed={narrow} onClick={() => setNarrow(true)}>
            phone
          </button>
        </span>
      </div>
      <Card
        title={form.definition.label}
        mark={record && <span className="mono faded">{record.title}</span>}
        end={version !== undefined && <span className="faded">version {version}</span>}
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
          <p className="card-section ruled-problem" role="alert">
            {entry.trouble}
          </p>
        )}
        <footer className="card-foot">
          <span className="faded" role="status">
            {said}
          </span>
          <div className="end">
            <button
              type="button"
              className="button plain"
              onClick={() => {
                setSaid('');
                dispatch({ type: 'reset' });
              }}
            >
              Reset
            </button>
            <button
              type="button"
              className="button"
              disabled={!ready}
              onClick={() => {
                setSaid('');
                dispatch({ type: 'savePressed' });
              }}
            >
              Try saving
            </button>
          </div>
        </footer>
      </Card>
    </div>
  );
}
