import type { Backfill } from '@fiche/core/api';
import { fieldType, isOneValue, linksOne, linksSeveral } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { Initial, TableDefinition } from '@fiche/core/tables';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { type SyntheticEvent, useRef, useState } from 'react';
import { CheckField, SelectField, Sheet, settingsCss } from '../parts/index.ts';
import { DefaultControl } from './DefaultControl.tsx';
import type { FieldKind } from './fieldKind.ts';
import { TypeControls } from './TypeControls.tsx';
import type { ChangeTable } from './useTableWork.tsx';

interface Drafted {
  readonly label: string;
  readonly kind: FieldKind;
  readonly required: boolean;
  readonly unique: boolean;
  readonly initial: Initial | null;
  /** What existing records shall hold. */
  readonly backfill: 'nothing' | 'value' | 'calculation';
  readonly filling: string;
}

const BLANK: Drafted = {
  label: '',
  kind: { type: 'text', settings: {} },
  required: false,
  unique: false,
  initial: null,
  backfill: 'nothing',
  filling: '',
};

interface NewFieldSheetProps {
  readonly table: TableDefinition;
  readonly change: ChangeTable;
  onClose(): void;
}

/** Adds fields, one after another: the sheet stays open for the next one. */
export function NewFieldSheet({ table, change, onClose }: NewFieldSheetProps) {
  const [draft, setDraft] = useState(BLANK);
  const [trouble, setTrouble] = useState('');
  const first = useRef<HTMLInputElement>(null);
  const { kind } = draft;
  const { editable } = fieldType(kind.type);
  const switchable = editable && !linksSeveral(kind);
  const set = (part: Partial<Drafted>): void => setDraft({ ...draft, ...part });
  const add = async (event: SyntheticEvent): Promise<void> => {
    event.preventDefault();
    setTrouble('');
    const backfill = backfillOf(draft);
    if ('wrong' in backfill) return setTrouble(backfill.wrong);
    const field = {
      label: draft.label,
      ...kind,
      required: draft.required && switchable,
      unique: draft.unique && switchable,
      initial: draft.initial,
    };
    if (!(await change('POST', `/api/tables/${table.id}/fields`, { field, backfill }, setTrouble)))
      return first.current?.focus();
    setDraft(BLANK);
    first.current?.focus();
  };
  return (
    <Sheet title={say('New field')} onClose={onClose}>
      <form className={settingsCss.form} aria-label={say('New field')} noValidate onSubmit={(event) => void add(event)}>
        <TextField
          autoFocus
          inputRef={first}
          label={say('Name')}
          value={draft.label}
          error={trouble !== ''}
          onChange={(event) => set({ label: event.target.value })}
        />
        <TypeControls
          kind={kind}
          of={table.id}
          onChange={(next) => set({ kind: next, initial: next.type === kind.type ? draft.initial : null })}
        />
        {switchable && (
          <div>
            <CheckField label={say('Required')} checked={draft.required} onChange={(required) => set({ required })} />
            <CheckField label={say('Unique')} checked={draft.unique} onChange={(unique) => set({ unique })} />
          </div>
        )}
        {editable && isOneValue(kind) && (
          <DefaultControl field={{ ...kind, initial: draft.initial }} onSet={(initial) => set({ initial })} />
        )}
        {switchable && table.fields.length > 0 && (
          <>
            <SelectField
              label={say('For existing records')}
              value={draft.backfill}
              options={[
                { value: 'nothing', label: say('leave blank') },
                { value: 'value', label: say('a value') },
                { value: 'calculation', label: say('a formula') },
              ]}
              onChange={(backfill) => set({ backfill: backfill as Drafted['backfill'] })}
            />
            {draft.backfill !== 'nothing' && (
              <TextField
                label={draft.backfill === 'value' ? say('Value') : say('Formula')}
                placeholder={draft.backfill === 'value' ? '' : say('length * 2')}
                value={draft.filling}
                onChange={(event) => set({ filling: event.target.value })}
              />
            )}
          </>
        )}
        {trouble && (
          <Alert severity="error" role="alert">
            {trouble}
          </Alert>
        )}
        <div className={settingsCss.acts}>
          <Button type="submit" variant="contained">
            {say('Add field')}
          </Button>
          <Button variant="text" onClick={onClose}>
            {say('Done')}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}

function backfillOf({ backfill, filling, kind }: Drafted): Backfill | { wrong: string } {
  if (backfill === 'nothing') return { kind: 'nothing' };
  if (backfill === 'calculation') return { kind: 'calculation', expression: filling };
  if (linksOne(kind)) return { kind: 'value', value: Number(filling) || null };
  const read = fieldType(kind.type).parse(filling, kind.settings);
  return read.ok ? { kind: 'value', value: read.value } : { wrong: read.message };
}
