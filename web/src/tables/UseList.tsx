import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { send, useOffice, useRefreshCabinet } from '../client/index.ts';
import { SelectField, settingsCss, textCss, useNotify } from '../parts/index.ts';

const NEW = '';

/** *Use this list in…*: adds a field for each level to a table, which a form then shows as a cascade. */
export function UseList({ list }: { list: TableDefinition }) {
  const { cabinet } = useOffice();
  const refresh = useRefreshCabinet();
  const navigate = useNavigate();
  const notify = useNotify();
  const [open, setOpen] = useState(false);
  const [into, setInto] = useState(NEW);
  const [label, setLabel] = useState('');
  const [trouble, setTrouble] = useState('');
  const targets = cabinet.tables.filter((one) => one.kind === 'records' && !one.archived);
  const add = async (): Promise<void> => {
    setTrouble('');
    try {
      const table = await send<TableDefinition>(
        'POST',
        `/api/tables/${list.id}/use`,
        into === NEW ? { label } : { table: into },
      );
      await refresh();
      notify(
        say('{count} fields of {label} were added to {other}.', {
          count: list.fields.length,
          label: list.label,
          other: table.label,
        }),
      );
      navigate(`/${cabinet.id}/tables/${table.id}?fields`);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return (
    <>
      <Button onClick={() => setOpen(true)}>{say('Use this list in…')}</Button>
      <Dialog open={open} onClose={() => setOpen(false)} fullWidth maxWidth="xs">
        <DialogTitle>{say('Use {label}', { label: list.label })}</DialogTitle>
        <DialogContent>
          <div className={settingsCss.form}>
            <SelectField
              autoFocus
              label={say('Add its levels to the table')}
              value={into}
              options={[
                { value: NEW, label: say('a new table') },
                ...targets.map((one) => ({ value: one.id, label: one.label })),
              ]}
              onChange={setInto}
            />
            {into === NEW && (
              <TextField
                label={say('Name of the new table')}
                value={label}
                onChange={(event) => setLabel(event.target.value)}
              />
            )}
            <p className={textCss.faded}>
              {say('A field is added for each level: {list}. Each is narrowed by the levels above it.', {
                list: list.fields.map((one) => one.label).join(', '),
              })}
            </p>
            {trouble && <Alert severity="error">{trouble}</Alert>}
          </div>
        </DialogContent>
        <DialogActions>
          <Button variant="text" onClick={() => setOpen(false)}>
            {say('Cancel')}
          </Button>
          <Button variant="contained" onClick={() => void add()}>
            {say('Add {count} fields', { count: list.fields.length })}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
