import type { RecordView } from '@fiche/core/api';
import { type FormEvent, useState } from 'react';
import { send } from '../client/index.ts';

/** Erasing for good: what cannot be undone asks for a reason, which stays in the ledger. */
export function EraseRecord({ table, record, onErased }: { table: string; record: RecordView; onErased(): void }) {
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState('');
  const [trouble, setTrouble] = useState('');
  const erase = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    try {
      await send('DELETE', `/api/tables/${table}/records/${record.id}`, { version: record.version, reason });
      onErased();
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  if (!asking)
    return (
      <button type="button" className="button plain" onClick={() => setAsking(true)}>
        Erase for good…
      </button>
    );
  return (
    <form className="inline-form erase" aria-label="Erase for good" onSubmit={(event) => void erase(event)}>
      <label>
        Why {record.title} is erased. This cannot be undone; the reason and the lines written before stay in the ledger.
        <input autoFocus value={reason} onChange={(event) => setReason(event.target.value)} />
      </label>
      <button type="submit" className="button stop" disabled={reason.trim().length < 3}>
        Erase {record.title} for good
      </button>
      <button type="button" className="button plain" onClick={() => setAsking(false)}>
        Keep it
      </button>
      {trouble && (
        <span className="ruled-problem" role="alert">
          {trouble}
        </span>
      )}
    </form>
  );
}
