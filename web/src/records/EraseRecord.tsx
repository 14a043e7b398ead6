import type { RecordView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { RecordId, TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { send } from '../client/index.ts';
import { InlineForm } from '../parts/index.ts';
import { EverythingHeld } from './EverythingHeld.tsx';

/** The record that is about to be erased, and why, as far as that is written. */
export interface Erasing {
  readonly record: RecordId;
  readonly reason: string;
}

interface Props {
  readonly table: TableId;
  readonly record: RecordView;
  /** Kept by the page: the card is drawn anew when its record comes in anew. */
  readonly erasing: Erasing | undefined;
  setErasing(erasing: Erasing | undefined): void;
  onErased(): void;
}

/** Erasing for good: what cannot be undone asks for a reason, which stays in the ledger. */
export function EraseRecord({ table, record, erasing, setErasing, onErased }: Props) {
  const [trouble, setTrouble] = useState('');
  const asking = erasing?.record === record.id;
  const reason = erasing?.reason ?? '';
  const setReason = (next: string): void => setErasing({ record: record.id, reason: next });
  const erase = async (): Promise<void> => {
    try {
      await send('DELETE', `/api/tables/${table}/records/${record.id}`, { version: record.version, reason });
      onErased();
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  if (!asking)
    return (
      <Button variant="text" onClick={() => setReason('')}>
        {say('Erase for good…')}
      </Button>
    );
  return (
    <InlineForm
      label={say('Erase for good')}
      submit={say('Erase {title} for good', { title: record.title })}
      trouble={trouble}
      stop
      disabled={reason.trim().length < 3}
      after={
        <Button variant="text" onClick={() => setErasing(undefined)}>
          {say('Cancel')}
        </Button>
      }
      onSubmit={erase}
    >
      <EverythingHeld table={table} record={record.id} />
      <p>
        {say(
          'This cannot be undone. The values of {title} are removed from its history too; that there was a record, who wrote it and when, and your reason stay in the ledger.',
          { title: record.title },
        )}
      </p>
      <TextField
        autoFocus
        fullWidth
        label={say('Reason')}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
    </InlineForm>
  );
}
