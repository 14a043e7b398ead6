import { carryOver } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { useEffect, useMemo, useState } from 'react';
import { useOffice } from '../client/index.ts';
import { civilNow, EntryFields, ProblemList, useEntry } from '../entry/index.ts';
import { Card } from '../parts/index.ts';

interface LiveCardProps {
  readonly form: PreparedForm;
  readonly id: string;
  /** False while the draft that this card runs is still being saved. */
  readonly ready: boolean;
  readonly selected?: string;
  onSelect(field: string): void;
}

/** The form as it will be, on real data. Trying it asks the server for everything and writes nothing. */
export function LiveCard({ form, id, ready, selected, onSelect }: LiveCardProps) {
  const { session } = useOffice();
  const [narrow, setNarrow] = useState(false);
  const [said, setSaid] = useState('');
  const opening = useMemo(() => ({ account: session.login, now: civilNow(), record: null }), [session.login]);
  const entry = useEntry({
    form,
    opening,
    base: `/api/forms/${id}/draft`,
    onSaved: () => setSaid('This would be saved. Trying writes nothing.'),
  });
  const { replace, state, dispatch } = entry;
  useEffect(() => {
    if (state.form !== form) replace(carryOver(form, state));
  }, [form, state, replace]);
  // The server has let it through: the card is open for the next try.
  useEffect(() => {
    if (said !== '' && state.phase === 'saving') dispatch({ type: 'refused', problems: [] });
  }, [said, state.phase, dispatch]);
  return (
    <div className={`live-card${narrow ? ' narrow' : ''}`}>
      <Card
        title={form.definition.label}
        end={
          <span className="tabs" role="group" aria-label="Width of the card">
            <button type="button" aria-pressed={!narrow} onClick={() => setNarrow(false)}>
              desk
            </button>
            <button type="button" aria-pressed={narrow} onClick={() => setNarrow(true)}>
              phone
            </button>
          </span>
        }
      >
        <ProblemList entry={entry} />
        {state.form === form && <EntryFields entry={entry} selected={selected} onSelect={onSelect} narrow={narrow} />}
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
