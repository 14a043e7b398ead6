import { say } from '@fiche/core/languages';
import type { RecordId, TableId } from '@fiche/core/tables';
import SearchIcon from '@mui/icons-material/Search';
import Popper from '@mui/material/Popper';
import { useQuery } from '@tanstack/react-query';
import { type Ref, useDeferredValue, useMemo, useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { choicesCss, FieldInput, useSearchBox, useShortcut } from '../parts/index.ts';
import { recentRecords } from '../records/index.ts';
import goToCss from './goTo.module.css';

interface Place {
  readonly label: string;
  readonly kind: string;
  readonly to: string;
}

/** Search-and-go by Ctrl+K: what was open lately as long as nothing is typed; forms, tables, pages and actions of the cabinet, and records. */
export function GoTo() {
  const navigate = useNavigate();
  const [text, setText] = useState('');
  const known = usePlaces();
  const recent = useRecentPlaces();
  const { records, searching } = useFoundRecords(text);
  const words = text.toLowerCase().trim().split(/\s+/);
  const places = known.filter((one) => words.every((word) => `${one.label} ${one.kind}`.toLowerCase().includes(word)));
  const { rootProps, inputProps, listProps, optionProps, anchor, shown, popupOpen } = useSearchBox<Place, false, false>(
    {
      id: 'go-to',
      found: text.trim() === '' ? [...recent, ...places] : [...places, ...records],
      labelOf: (one) => one.label,
      keyOf: (one) => one.to,
      value: null,
      inputValue: text,
      openOnFocus: true,
      onInputChange: (_event, typed, reason) => setText(reason === 'input' ? typed : ''),
      onChange: (_event, one) => {
        if (!one) return;
        (document.activeElement as HTMLElement | null)?.blur();
        navigate(one.to);
      },
    },
  );
  // What was typed before is marked, so that typing begins anew.
  useShortcut('goTo', () => {
    const input = document.getElementById('go-to') as HTMLInputElement | null;
    input?.focus();
    input?.select();
  });
  const { ref, ...input } = inputProps as typeof inputProps & { ref: Ref<HTMLInputElement> };
  return (
    <div className={goToCss.goTo} {...rootProps}>
      <SearchIcon aria-hidden="true" />
      <FieldInput
        {...input}
        inputRef={ref}
        aria-label={say('Find a record, form, table or page')}
        placeholder={say('Find a record, form, table')}
      />
      <kbd aria-hidden="true">Ctrl K</kbd>
      {popupOpen && (
        <Popper
          open
          anchorEl={anchor}
          placement="bottom-start"
          className={choicesCss.choices}
          style={{ minWidth: anchor?.clientWidth }}
        >
          {shown.length === 0 ? (
            <p className={choicesCss.note} role="status">
              {searching ? say('Searching…') : say('Nothing here is called “{text}”.', { text: text.trim() })}
            </p>
          ) : (
            <ul {...listProps} aria-label={say('Places')}>
              {shown.map((one, index) => {
                const { key, ...option } = optionProps(one, index);
                return (
                  <li key={key} {...option}>
                    <span>{one.label}</span>
                    <span className={choicesCss.columns}>{one.kind}</span>
                  </li>
                );
              })}
            </ul>
          )}
        </Popper>
      )}
    </div>
  );
}

/** The places of the cabinet that need no asking: forms, tables, pages. */
function usePlaces(): readonly Place[] {
  const { cabinet, may } = useOffice();
  return useMemo(() => {
    const at = (path: string): string => `/${cabinet.id}/${path}`;
    const forms = cabinet.forms.filter((form) => !form.archived);
    const page = (label: string, path: string): Place => ({ label, kind: 'page', to: at(path) });
    return [
      ...forms
        .filter((form) => form.liveVersion !== null)
        .map((form) => ({ label: form.label, kind: 'form', to: at(`forms/${form.id}`) })),
      ...(may('build')
        ? forms.map((form) => ({ label: form.label, kind: say('edit form'), to: at(`forms/${form.id}/edit`) }))
        : []),
      ...cabinet.tables
        .filter((table) => !table.archived)
        .map((table) => ({
          label: table.label,
          kind: table.kind === 'list' ? say('option list') : 'table',
          to: at(`tables/${table.id}`),
        })),
      page('Home', 'home'),
      ...(may('ledger') ? [page(say('Ledger'), 'ledger')] : []),
      page(say('People'), 'people'),
      ...(may('people')
        ? cabinet.roles.map((role) => ({ label: role.label, kind: 'role', to: at(`people/roles/${role.id}`) }))
        : []),
      ...(may('outbox') ? [page(say('Outbox'), 'outbox')] : []),
      page(say('Your account'), 'account'),
      page(say('Settings'), 'settings'),
      ...(may('build') ? [page(say('Operation'), 'settings/operation')] : []),
      ...(may('import') ? [page(say('Import a file'), 'imports/new')] : []),
      ...forms
        .filter((form) => form.liveVersion !== null && form.may.add && may('add', form.table))
        .map((form) => ({
          label: say('New: {label}', { label: form.label }),
          kind: 'action',
          to: at(`forms/${form.id}/new`),
        })),
    ];
  }, [cabinet, may]);
}

/** The records that were open lately in this browser, the latest first. */
function useRecentPlaces(): readonly Place[] {
  const { cabinet, session } = useOffice();
  return recentRecords(session.login ?? '', cabinet.id).map(({ path, title, through }) => ({
    label: title,
    kind: say('opened lately · {through}', { through }),
    to: `/${cabinet.id}/${path}`,
  }));
}

/** Records whose title, or another line of text, has what was typed, from two letters on. */
function useFoundRecords(text: string): { records: readonly Place[]; searching: boolean } {
  const { cabinet, tables } = useOffice();
  const words = useDeferredValue(text.trim());
  const query = useQuery({
    queryKey: ['find', cabinet.id, words],
    queryFn: ({ signal }) =>
      send<{ found: { table: TableId; record: RecordId; title: string; found: string | null }[] }>(
        'GET',
        `/api/cabinets/${cabinet.id}/find?words=${encodeURIComponent(words)}`,
        undefined,
        {},
        signal,
      ),
    enabled: words.length >= 2,
    staleTime: 5_000,
    placeholderData: (before) => before,
  });
  const found = words.length >= 2 ? (query.data?.found ?? []) : [];
  return {
    records: found.map((one) => ({
      label: one.title,
      kind: `${tables.get(one.table)?.label ?? ''}${one.found === null ? '' : ` · ${one.found}`}`,
      to: `/${cabinet.id}/tables/${one.table}/${one.record}`,
    })),
    searching: query.isFetching,
  };
}
