import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { InlineForm } from '../parts/index.ts';

/** Makes an empty cabinet: a named group of tables and forms, to begin with a table, a file, or another cabinet's file. */
export function NewCabinetPage() {
  const { may } = useOffice();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [label, setLabel] = useState('');
  const [trouble, setTrouble] = useState('');
  if (!may('build')) return <p className="empty">Your role does not allow making a cabinet.</p>;
  const make = async (): Promise<void> => {
    try {
      const made = await send<{ id: string }>('POST', '/api/cabinets', { label });
      await queries.invalidateQueries({ queryKey: ['session'] });
      navigate(`/${made.id}/tables`);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <div className="page-body">
      <div className="page-head">
        <h1>A new cabinet</h1>
      </div>
      <p className="faded">
        A cabinet holds tables and forms of its own, and says who may use them. It begins empty: with a table, a
        spreadsheet, or a file that “Take the cabinet out” made.
      </p>
      <InlineForm label="Make a cabinet" submit="Make the cabinet" trouble={trouble} onSubmit={make}>
        <label>
          A new cabinet, called
          <input
            autoFocus
            value={label}
            onChange={(event) => setLabel(event.target.value)}
            aria-invalid={trouble !== '' || undefined}
          />
        </label>
      </InlineForm>
    </div>
  );
}
