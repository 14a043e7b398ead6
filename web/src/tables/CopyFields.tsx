import { say, sayCount } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import { CheckField, SelectField, settingsCss } from '../parts/index.ts';
import type { ChangeTable } from './useTableWork.tsx';

/** Copies fields of another table: their definitions, not their data. */
export function CopyFields({ table, change }: { table: TableDefinition; change: ChangeTable }) {
  const { cabinet } = useOffice();
  const [open, setOpen] = useState(false);
  const [from, setFrom] = useState('');
  const [fields, setFields] = useState<readonly string[]>([]);
  const others = cabinet.tables.filter((one) => one.id !== table.id && !one.archived && one.fields.length > 0);
  const source = others.find((one) => one.id === from);
  if (others.length === 0) return null;
  const close = (): void => {
    setOpen(false);
    setFrom('');
    setFields([]);
  };
  const copy = async (): Promise<void> => {
    if (await change('POST', `/api/tables/${table.id}/fields/copy`, { from, fields })) close();
  };
  return (
    <>
      <Button onClick={() => setOpen(true)}>{say('Copy from another table')}</Button>
      <Dialog open={open} onClose={close} fullWidth maxWidth="xs">
        <DialogTitle>{say('Copy fields')}</DialogTitle>
        <DialogContent>
          <div className={settingsCss.form}>
            <SelectField
              label={say('From the table')}
              value={from}
              options={[
                { value: '', label: say('choose a table') },
                ...others.map((one) => ({ value: one.id, label: one.label })),
              ]}
              onChange={(next) => {
                setFrom(next);
                setFields([]);
              }}
            />
            {source?.fields.map((field) => (
              <CheckField
                key={field.id}
                label={field.label}
                checked={fields.includes(field.id)}
                onChange={(on) => setFields(on ? [...fields, field.id] : fields.filter((id) => id !== field.id))}
              />
            ))}
          </div>
        </DialogContent>
        <DialogActions>
          <Button variant="text" onClick={close}>
            {say('Cancel')}
          </Button>
          <Button variant="contained" disabled={fields.length === 0} onClick={() => void copy()}>
            {sayCount(fields.length, 'Copy 1 field', 'Copy {count} fields')}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
