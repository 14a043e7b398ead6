import useAutocomplete from '@mui/material/useAutocomplete';
import { type Key, useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { useOffice } from '../client/index.ts';

interface Place {
  readonly label: string;
  readonly kind: string;
  readonly to: string;
}

/** Search-and-go: forms, tables and pages of the cabinet, by Ctrl+K. */
export function GoTo() {
  const { cabinet, may } = useOffice();
  const navigate = useNavigate();
  const [text, setText] = useState('');
  const places = useMemo<Place[]>(() => {
    const at = (path: string): string => `/${cabinet.id}/${path}`;
    return [
      ...cabinet.forms
        .filter((form) => form.liveVersion !== null)
        .map((form) => ({ label: form.label, kind: 'form', to: at(`forms/${form.id}`) })),
      ...(may('build')
        ? cabinet.forms.map((form) => ({
            label: `${form.label}: Studio`,
            kind: 'Studio',
            to: at(`forms/${form.id}/studio`),
          }))
        : []),
      ...cabinet.tables.map((table) => ({ label: table.label, kind: 'table', to: at(`tables/${table.id}`) })),
      { label: 'Desk', kind: 'page', to: at('desk') },
      ...(may('ledger') ? [{ label: 'Ledger', kind: 'page', to: at('ledger') }] : []),
      { label: 'People', kind: 'page', to: at('people') },
    ];
  }, [cabinet, may]);
  const { getRootProps, getInputProps, getListboxProps, getOptionProps, groupedOptions, popupOpen } = useAutocomplete<
    Place,
    false,
    false,
    false
  >({
    id: 'go-to',
    options: places,
    value: null,
    inputValue: text,
    getOptionLabel: (one) => one.label,
    getOptionKey: (one) => one.to,
    autoHighlight: true,
    openOnFocus: true,
    onInputChange: (_event, typed, reason) => setText(reason === 'input' ? typed : ''),
    onChange: (_event, one) => {
      if (!one) return;
      (document.activeElement as HTMLElement | null)?.blur();
      navigate(one.to);
    },
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'k') return;
      event.preventDefault();
      document.getElementById('go-to')?.focus();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  return (
    <div className="go-to" {...getRootProps()}>
      <input {...getInputProps()} aria-label="Go to a form, table or page" placeholder="Go to a form or table" />
      <kbd aria-hidden="true">Ctrl K</kbd>
      {popupOpen && groupedOptions.length > 0 && (
        <ul className="choices" {...getListboxProps()} aria-label="Places">
          {(groupedOptions as Place[]).map((one, index) => {
            const { key, ...option } = getOptionProps({ option: one, index }) as ReturnType<typeof getOptionProps> & {
              key: Key;
            };
            return (
              <li key={key} {...option}>
                <span>{one.label}</span>
                <span className="shown-columns">{one.kind}</span>
              </li>
            );
          })}
        </ul>
      )}
    </div>
  );
}
