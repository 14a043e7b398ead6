import type { Backfill } from '@fiche/core/api';
import { FIELD_TYPES, fieldType, readItems } from '@fiche/core/fields';
import { currentOffice } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import { useRef, useState } from 'react';
import { useOffice } from '../client/index.ts';
import { InlineForm, PickField } from '../parts/index.ts';
import { currencies } from '../settings/index.ts';
import type { ChangeTable } from './useTableWork.tsx';

interface Drafted {
  readonly label: string;
  readonly type: string;
  readonly target: string;
  readonly choices: string;
  readonly places: string;
  readonly currency: string;
  readonly prefix: string;
  readonly withYear: boolean;
  readonly required: boolean;
  readonly unique: boolean;
  /** What records that are there shall hold. */
  readonly backfill: 'nothing' | 'value' | 'calculation';
  readonly filling: string;
}

const BLANK: Omit<Drafted, 'target'> = {
  label: '',
  type: 'text',
  choices: '',
  places: '2',
  currency: '',
  prefix: '',
  withYear: true,
  required: false,
  unique: false,
  backfill: 'nothing',
  filling: '',
};

function settingsOf({ type, target, choices, places, currency, prefix, withYear }: Drafted): Record<string, unknown> {
  if (type === 'link' || type === 'links') return { table: target };
  if (type === 'choice' || type === 'choices') return { choices: readItems(choices) };
  if (type === 'decimal') return { places: Number(places) };
  if (type === 'amount') return { currency };
  return type === 'sequence' ? { prefix, withYear } : {};
}

/** Adds a field: its label, what it is, what that type wants to know, and what the records that are there shall hold. */
export function AddField({ table, change }: { table: TableDefinition; change: ChangeTable }) {
  const { cabinet } = useOffice();
  const [trouble, setTrouble] = useState('');
  const [draft, setDraft] = useState<Drafted>({
    ...BLANK,
    currency: currentOffice().currency,
    target: cabinet.tables[0]?.id ?? '',
  });
  const first = useRef<HTMLInputElement>(null);
  const { editable } = fieldType(draft.type);
  const set = (part: Partial<Drafted>): void => setDraft({ ...draft, ...part });
  const several = draft.type === 'links';

  const add = async (): Promise<void> => {
    setTrouble('');
    const settings = settingsOf(draft);
    const backfill = backfillOf(draft, settings);
    if ('wrong' in backfill) return setTrouble(backfill.wrong);
    const { label, type, required, unique } = draft;
    const body = {
      field: {
        label,
        type,
        settings,
        required: required && editable && !several,
        unique: unique && editable && !several,
      },
      backfill,
    };
    if (!(await change('POST', `/api/tables/${table.id}/fields`, body, setTrouble))) return;
    setDraft({ ...draft, label: '', choices: '', required: false, unique: false, backfill: 'nothing', filling: '' });
    first.current?.focus();
  };
  return (
    <InlineForm label="Add a field" submit="Add the field" trouble={trouble} onSubmit={add}>
      <label>
        Add a field, called
        <input
          ref={first}
          value={draft.label}
          onChange={(event) => set({ label: event.target.value })}
          aria-invalid={trouble !== '' || undefined}
        />
      </label>
      <label>
        which is a
        <select value={draft.type} onChange={(event) => set({ type: event.target.value })}>
          {FIELD_TYPES.map((one) => (
            <option key={one.name} value={one.name}>
              {one.word}
            </option>
          ))}
        </select>
      </label>
      {(draft.type === 'link' || several) && (
        <label>
          to the table
          <select value={draft.target} onChange={(event) => set({ target: event.target.value })}>
            {cabinet.tables.map((one) => (
              <option key={one.id} value={one.id}>
                {one.label}
              </option>
            ))}
          </select>
        </label>
      )}
      {(draft.type === 'choice' || draft.type === 'choices') && (
        <label>
          of these, with commas between
          <input value={draft.choices} onChange={(event) => set({ choices: event.target.value })} />
        </label>
      )}
      {draft.type === 'decimal' && (
        <label>
          decimal places
          <input
            inputMode="numeric"
            style={{ width: 90 }}
            value={draft.places}
            onChange={(event) => set({ places: event.target.value })}
          />
        </label>
      )}
      {draft.type === 'amount' && (
        <PickField
          id="currency"
          label="in the currency"
          options={currencies()}
          value={draft.currency}
          onPick={(currency) => set({ currency })}
        />
      )}
      {draft.type === 'sequence' && (
        <>
          <label>
            beginning with
            <input
              placeholder="such as CARD-"
              style={{ width: 130 }}
              value={draft.prefix}
              onChange={(event) => set({ prefix: event.target.value })}
            />
          </label>
          <label className="check">
            <input
              type="checkbox"
              checked={draft.withYear}
              onChange={(event) => set({ withYear: event.target.checked })}
            />{' '}
            and the year
          </label>
        </>
      )}
      {editable && !several && (
        <>
          <label className="check">
            <input
              type="checkbox"
              checked={draft.required}
              onChange={(event) => set({ required: event.target.checked })}
            />{' '}
            required
          </label>
          <label className="check">
            <input type="checkbox" checked={draft.unique} onChange={(event) => set({ unique: event.target.checked })} />{' '}
            unique
          </label>
          {table.fields.length > 0 && <BackfillInputs draft={draft} set={set} />}
        </>
      )}
    </InlineForm>
  );
}

function BackfillInputs({ draft, set }: { draft: Drafted; set(part: Partial<Drafted>): void }) {
  return (
    <>
      <label>
        Records already here hold
        <select
          value={draft.backfill}
          onChange={(event) => set({ backfill: event.target.value as Drafted['backfill'] })}
        >
          <option value="nothing">nothing</option>
          <option value="value">a value</option>
          <option value="calculation">a calculation</option>
        </select>
      </label>
      {draft.backfill !== 'nothing' && (
        <label>
          {draft.backfill === 'value' ? 'namely' : 'namely, of their columns'}
          <input
            className={draft.backfill === 'value' ? undefined : 'mono'}
            placeholder={draft.backfill === 'value' ? '' : 'length * 2'}
            value={draft.filling}
            onChange={(event) => set({ filling: event.target.value })}
          />
        </label>
      )}
    </>
  );
}

function backfillOf(
  { backfill, filling, type }: Drafted,
  settings: Record<string, unknown>,
): Backfill | { wrong: string } {
  if (backfill === 'nothing') return { kind: 'nothing' };
  if (backfill === 'calculation') return { kind: 'calculation', expression: filling };
  if (type === 'link') return { kind: 'value', value: Number(filling) || null };
  const read = fieldType(type).parse(filling, settings);
  return read.ok ? { kind: 'value', value: read.value } : { wrong: read.message };
}
