import { say } from '@fiche/core/languages';
import TextField from '@mui/material/TextField';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { InlineForm, pageCss, sayWith, textCss } from '../parts/index.ts';

/** Makes an empty cabinet: a named group of tables and forms, to begin with a table, a file, or another cabinet's file. */
export function NewCabinetPage() {
  const { may } = useOffice();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [label, setLabel] = useState('');
  const [trouble, setTrouble] = useState('');
  if (!may('build')) return <p className={pageCss.empty}>{say('Your role does not allow making a cabinet.')}</p>;
  const make = async (): Promise<void> => {
    try {
      const made = await send<{ id: string }>('POST', '/api/cabinets', { label });
      await queries.invalidateQueries({ queryKey: ['session'] });
      navigate(`/${made.id}/home`);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{say('New cabinet')}</h1>
      </div>
      <p className={textCss.faded}>
        {sayWith(
          'A cabinet holds tables and forms of its own, and says who may use them. It starts empty: add a table, import a spreadsheet, or import a file that {name} made.',
          { name: <em>{say('Export cabinet')}</em> },
        )}
      </p>
      <InlineForm label={say('New cabinet')} submit={say('Create cabinet')} trouble={trouble} onSubmit={make}>
        <TextField
          autoFocus
          label={say('Name')}
          value={label}
          error={trouble !== ''}
          onChange={(event) => setLabel(event.target.value)}
        />
      </InlineForm>
    </div>
  );
}
