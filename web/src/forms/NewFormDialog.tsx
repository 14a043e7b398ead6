import type { ListedForm } from '@fiche/core/api';
import { type DefinedForm, generateForm, isField, linesInto, OPENING_WORDS, OPENINGS } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { TableDefinition, TableId } from '@fiche/core/tables';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { type SyntheticEvent, useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { send, useOffice, useRefreshCabinet } from '../client/index.ts';
import { CheckField, SelectField, settingsCss, textCss } from '../parts/index.ts';
import newFormCss from './newForm.module.css';

/** What may be done through a new form. */
const MAY = {
  all: { add: true, change: true, archive: true },
  add: { add: true, change: false, archive: false },
  change: { add: false, change: true, archive: false },
  look: { add: false, change: false, archive: false },
} as const;

const MAY_WORDS = [
  { value: 'all', label: say('add, change and archive records') },
  { value: 'add', label: say('add records only') },
  { value: 'change', label: say('change records only') },
  { value: 'look', label: say('look at records only') },
];
const FIELDS = [
  { value: 'all', label: say('all fields of the table') },
  { value: 'none', label: say('no fields yet') },
];

/** What is chosen for a new form, and making it. */
function useNewForm() {
  const { cabinet, tables } = useOffice();
  const refresh = useRefreshCabinet();
  const navigate = useNavigate();
  const offered = cabinet.tables.filter((one) => !one.archived && one.kind === 'records');
  const [table, setTable] = useState(offered[0]?.id ?? '');
  const [label, setLabel] = useState('');
  const [opensOn, setOpensOn] = useState<DefinedForm['opensOn']>('blank');
  const [fields, setFields] = useState<'all' | 'none'>('all');
  const [may, setMay] = useState<keyof typeof MAY>('all');
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [trouble, setTrouble] = useState('');
  const lines = linesInto(tables, table).map((one) => ({ ...one, key: `${one.table.id}.${one.link}` }));
  const proposed = tables.get(table)?.label ?? '';
  const chosen = {
    opensOn,
    fields,
    may: MAY[may],
    subforms: fields === 'none' ? [] : lines.map((one) => one.key).filter((key) => !left.has(key)),
  };
  const make = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    setTrouble('');
    try {
      const form = await send<ListedForm>('POST', `/api/cabinets/${cabinet.id}/forms`, {
        ...chosen,
        table,
        label: label.trim() || proposed,
      });
      await refresh();
      navigate(`/${cabinet.id}/forms/${form.id}/edit`);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return {
    offered,
    proposed,
    table,
    setTable,
    label,
    setLabel,
    opensOn,
    setOpensOn,
    fields,
    setFields,
    may,
    setMay,
    lines,
    left,
    setLeft,
    chosen,
    trouble,
    make,
  };
}

/** Makes a form from a table, and shows beforehand what will be on it. */
export function NewFormDialog({ onClose }: { onClose(): void }) {
  const form = useNewForm();
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-label={say('New form')}>
      <form noValidate onSubmit={(event) => void form.make(event)}>
        <DialogTitle>{say('New form')}</DialogTitle>
        <DialogContent>
          <div className={newFormCss.form}>
            <div className={settingsCss.form}>
              <SelectField
                autoFocus
                label={say('Table')}
                value={form.table}
                options={form.offered.map((one) => ({ value: one.id, label: one.label }))}
                onChange={form.setTable}
              />
              <TextField
                label={say('Name')}
                value={form.label}
                placeholder={form.proposed}
                onChange={(event) => form.setLabel(event.target.value)}
              />
              <SelectField
                label={say('Fields')}
                value={form.fields}
                options={FIELDS}
                onChange={(value) => form.setFields(value as 'all' | 'none')}
              />
              {form.fields === 'all' && <LinesToTake lines={form.lines} left={form.left} onChange={form.setLeft} />}
              <SelectField
                label={say('People may')}
                value={form.may}
                options={MAY_WORDS}
                onChange={(value) => form.setMay(value as keyof typeof MAY)}
              />
              <SelectField
                label={say('Opens on')}
                value={form.opensOn}
                options={OPENINGS.map((one) => ({ value: one, label: say(OPENING_WORDS[one]) }))}
                onChange={(value) => form.setOpensOn(value as DefinedForm['opensOn'])}
              />
            </div>
            <FormPreview table={form.table} label={form.label.trim() || form.proposed} chosen={form.chosen} />
          </div>
          {form.trouble && (
            <Alert severity="error" role="alert">
              {form.trouble}
            </Alert>
          )}
        </DialogContent>
        <DialogActions>
          <Button variant="text" onClick={onClose}>
            {say('Cancel')}
          </Button>
          <Button type="submit" variant="contained">
            {say('Create form')}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}

interface LinesToTakeProps {
  readonly lines: readonly { readonly key: string; readonly table: TableDefinition }[];
  /** Those that are not taken. */
  readonly left: ReadonlySet<string>;
  onChange(left: ReadonlySet<string>): void;
}

/** Which tables that link to the chosen one become lines of the form. */
function LinesToTake({ lines, left, onChange }: LinesToTakeProps) {
  return lines.map(({ key, table }) => (
    <CheckField
      key={key}
      label={say('{label} as lines', { label: table.label })}
      checked={!left.has(key)}
      onChange={(on) => {
        const next = new Set(left);
        if (on) next.delete(key);
        else next.add(key);
        onChange(next);
      }}
    />
  ));
}

/** The card that will be made, in outline: its fields with their types, and its lines. */
function FormPreview({
  table: id,
  label,
  chosen,
}: {
  table: TableId;
  label: string;
  chosen: NonNullable<Parameters<typeof generateForm>[2]>;
}) {
  const { tables } = useOffice();
  const table = tables.get(id);
  if (!table) return null;
  const form = generateForm(table, label, chosen, tables);
  const items = form.sections.flatMap((section) => section.items);
  return (
    <section className={newFormCss.preview} aria-label={say('Preview')}>
      <h3>{label}</h3>
      {items.length === 0 && (
        <p className={textCss.faded}>{say('A blank card: its fields are added in the form editor.')}</p>
      )}
      <ul>
        {items.map((item) => {
          if (isField(item)) {
            const field = table.fields.find((one) => one.id === item.field);
            return (
              <li key={item.field}>
                {field?.required && <span className={textCss.tick} role="img" aria-label={say('required')} />}
                {field?.label}
              </li>
            );
          }
          if (item.kind !== 'subform') return null;
          return (
            <li key={item.id} className={newFormCss.subform}>
              {say('{label}: lines', { label: tables.get(item.table)?.label ?? '' })}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
