import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { clsx } from 'clsx';
import { useState } from 'react';
import { settingsCss } from '../parts/index.ts';
import { type FieldKind, TypeControls } from '../tables/index.ts';
import addToFormCss from './addToForm.module.css';

interface NewFieldOfTypeProps {
  readonly label: string;
  /** The table that gets the field. */
  readonly table: TableDefinition;
  onMake(label: string, kind: FieldKind): void;
  onCancel(): void;
}

/** A new field of any type, made where it is needed: its name, its type and what the type asks for. */
export function NewFieldOfType({ label, table, onMake, onCancel }: NewFieldOfTypeProps) {
  const [name, setName] = useState(label);
  const [kind, setKind] = useState<FieldKind>({ type: 'choice', settings: { choices: [] } });
  return (
    <form
      className={clsx(settingsCss.form, addToFormCss.newField)}
      aria-label={say('New field of {label}', { label: table.label })}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim() !== '') onMake(name.trim(), kind);
      }}
    >
      <TextField autoFocus label={say('Name')} value={name} onChange={(event) => setName(event.target.value)} />
      <TypeControls kind={kind} of={table.id} onChange={setKind} />
      <div className={settingsCss.acts}>
        <Button type="submit" variant="contained">
          {say('Add field')}
        </Button>
        <Button variant="text" onClick={onCancel}>
          {say('Cancel')}
        </Button>
      </div>
    </form>
  );
}
