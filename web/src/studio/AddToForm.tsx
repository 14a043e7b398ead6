import type { FormDefinition, PreparedForm } from '@fiche/core/forms';
import { typeOf } from '@fiche/core/tables';
import Popover from '@mui/material/Popover';
import { type KeyboardEvent, useEffect, useRef, useState } from 'react';
import { Link } from 'react-router-dom';
import { addField, addSection } from './edit.ts';

interface AddToFormProps {
  readonly definition: FormDefinition;
  readonly prepared: PreparedForm;
  readonly cabinet: string;
  readonly selected?: string;
  onChange(definition: FormDefinition, select?: string): void;
}

/** Adds a field of the table that is not on the form yet, or a section. Opens with `/`. */
export function AddToForm({ definition, prepared, cabinet, selected, onChange }: AddToFormProps) {
  const button = useRef<HTMLButtonElement>(null);
  const [open, setOpen] = useState(false);
  const [search, setSearch] = useState('');
  const [active, setActive] = useState(0);
  const missing = prepared.table.fields.filter(
    (field) => !prepared.fields.has(field.id) && field.label.toLowerCase().includes(search.toLowerCase()),
  );
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent): void => {
      if (event.key !== '/' || (event.target as Element).closest('input, textarea, select')) return;
      event.preventDefault();
      setOpen(true);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  const close = (): void => {
    setOpen(false);
    setSearch('');
    setActive(0);
  };
  const add = (id: string | undefined): void => {
    const field = missing.find((one) => one.id === id);
    close();
    if (field) onChange(addField(definition, field, selected), field.id);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === 'ArrowDown') setActive(Math.min(active + 1, missing.length - 1));
    else if (event.key === 'ArrowUp') setActive(Math.max(active - 1, 0));
    else if (event.key === 'Enter') add(missing[active]?.id);
    else return;
    event.preventDefault();
  };
  return (
    <div className="outline-foot">
      <button ref={button} type="button" className="link" onClick={() => setOpen(true)}>
        Add a field <kbd>/</kbd>
      </button>
      <button type="button" className="link" onClick={() => onChange(addSection(definition, 'New section'))}>
        Add a section
      </button>
      <div className="faded wiring-key">N narrows · F fills · M must hold</div>
      <Popover
        open={open}
        anchorEl={() => button.current}
        onClose={close}
        transitionDuration={0}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Add a field' } }}
      >
        <div className="picker">
          <input
            autoFocus
            aria-label="Field of the table"
            placeholder="Type to find"
            value={search}
            onKeyDown={onKeyDown}
            onChange={(event) => {
              setSearch(event.target.value);
              setActive(0);
            }}
          />
          <ul>
            {missing.map((field, n) => (
              <li key={field.id} className={n === active ? 'active' : ''} onClick={() => add(field.id)}>
                {field.label}
                <small>{typeOf(field).word}</small>
              </li>
            ))}
          </ul>
          <div className="picker-hint">
            {missing.length === 0 && 'Every field of the table is on the form. '}
            <Link to={`/${cabinet}/tables/${prepared.table.id}?fields`}>
              Make a new field in {prepared.table.label}
            </Link>
          </div>
        </div>
      </Popover>
    </div>
  );
}
