import { FIELD_TYPES, fieldType } from '@fiche/core/fields';
import type { TableDefinition } from '@fiche/core/tables';
import { type FormEvent, useRef, useState } from 'react';
import { ServerProblem, send, useOffice, useRefreshCabinet } from '../client/index.ts';

/** Adds a field to a table: its label, what it is, and what that type wants to know. */
export function AddField({ table }: { table: TableDefinition }) {
  const { cabinet } = useOffice();
  const refresh = useRefreshCabinet();
  const [label, setLabel] = useState('');
  const [type, setType] = useState('text');
  const [target, setTarget] = useState(cabinet.tables[0]?.id ?? '');
  const [choices, setChoices] = useState('');
  const [places, setPlaces] = useState('2');
  const [prefix, setPrefix] = useState('');
  const [withYear, setWithYear] = useState(true);
  const [required, setRequired] = useState(false);
  const [unique, setUnique] = useState(false);
  const [trouble, setTrouble] = useState('');
  const first = useRef<HTMLInputElement>(null);
  const { editable } = fieldType(type);

  const settings = (): Record<string, unknown> => {
    if (type === 'link') return { table: target };
    if (type === 'choice')
      return {
        choices: choices
          .split(',')
          .map((one) => one.trim())
          .filter((one) => one !== ''),
      };
    if (type === 'decimal') return { places: Number(places) };
    if (type === 'sequence') return { prefix, withYear };
    return {};
  };
  const add = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    setTrouble('');
    try {
      await send('POST', `/api/tables/${table.id}/fields`, {
        label,
        type,
        settings: settings(),
        required: required && editable,
        unique: unique && editable,
      });
      await refresh();
      setLabel('');
      setChoices('');
      setRequired(false);
      setUnique(false);
      first.current?.focus();
    } catch (error) {
      setTrouble(
        error instanceof ServerProblem
          ? error.document.errors.map((one) => one.message).join(' ') || error.message
          : (error as Error).message,
      );
    }
  };
  return (
    <form className="inline-form" aria-label="Add a field" onSubmit={(event) => void add(event)}>
      <label>
        Add a field, called
        <input
          ref={first}
          value={label}
          onChange={(event) => setLabel(event.target.value)}
          aria-invalid={trouble !== '' || undefined}
        />
      </label>
      <label>
        which is a
        <select value={type} onChange={(event) => setType(event.target.value)}>
          {FIELD_TYPES.map((one) => (
            <option key={one.name} value={one.name}>
              {one.word}
            </option>
          ))}
        </select>
      </label>
      {type === 'link' && (
        <label>
          to the table
          <select value={target} onChange={(event) => setTarget(event.target.value)}>
            {cabinet.tables.map((one) => (
              <option key={one.id} value={one.id}>
                {one.label}
              </option>
            ))}
          </select>
        </label>
      )}
      {type === 'choice' && (
        <label>
          of these, with commas between
          <input value={choices} onChange={(event) => setChoices(event.target.value)} />
        </label>
      )}
      {type === 'decimal' && (
        <label>
          decimal places
          <input
            inputMode="numeric"
            style={{ width: 90 }}
            value={places}
            onChange={(event) => setPlaces(event.target.value)}
          />
        </label>
      )}
      {type === 'sequence' && (
        <>
          <label>
            beginning with
            <input
              placeholder="such as CARD-"
              style={{ width: 130 }}
              value={prefix}
              onChange={(event) => setPrefix(event.target.value)}
            />
          </label>
          <label className="check">
            <input type="checkbox" checked={withYear} onChange={(event) => setWithYear(event.target.checked)} /> and the
            year
          </label>
        </>
      )}
      {editable && (
        <>
          <label className="check">
            <input type="checkbox" checked={required} onChange={(event) => setRequired(event.target.checked)} />{' '}
            required
          </label>
          <label className="check">
            <input type="checkbox" checked={unique} onChange={(event) => setUnique(event.target.checked)} /> unique
          </label>
        </>
      )}
      <button type="submit" className="button">
        Add the field
      </button>
      {trouble && (
        <span className="ruled-problem" role="alert">
          {trouble}
        </span>
      )}
    </form>
  );
}
