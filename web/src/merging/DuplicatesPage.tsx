import type { DuplicatesFound } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { type DuplicatesBy, MATCH_MODES, MOST_MERGED, proposeDuplicates } from '@fiche/core/merging';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import ListItemButton from '@mui/material/ListItemButton';
import ListItemText from '@mui/material/ListItemText';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useParams, useSearchParams } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { pageCss, sayWith, textCss, Waiting } from '../parts/index.ts';
import { ComparedRecords } from './ComparedRecords.tsx';
import { DuplicateCriteria } from './DuplicateCriteria.tsx';
import mergingCss from './merging.module.css';

/** Finds records of a table that are alike, and makes one of those that are the same. */
export function DuplicatesPage() {
  const { tables } = useOffice();
  const { table: id = '' } = useParams();
  const table = tables.get(id);
  if (!table) return <p className={pageCss.empty}>{say('This table is not there any more.')}</p>;
  return <Duplicates key={id} table={table} />;
}

function Duplicates({ table }: { readonly table: TableDefinition }) {
  const { cabinet } = useOffice();
  const [address, setAddress] = useSearchParams();
  const asked = askedIn(address, table);
  const [draft, setDraft] = useState<Asked>(asked ?? { by: proposeDuplicates(table), search: '' });
  const chosen = (address.get('records') ?? '')
    .split(',')
    .map(Number)
    .filter((one) => Number.isSafeInteger(one) && one > 0);
  const found = useQuery({
    queryKey: ['duplicates', table.id, asked],
    queryFn: ({ signal }) => send<DuplicatesFound>('POST', `/api/tables/${table.id}/duplicates`, asked, {}, signal),
    enabled: asked !== undefined,
    retry: false,
    staleTime: 0,
  });
  const show = (records: readonly number[]): void =>
    setAddress((now) => {
      const next = new URLSearchParams(now);
      if (records.length === 0) next.delete('records');
      else next.set('records', records.join(','));
      return next;
    });
  const path = `/${cabinet.id}/tables/${table.id}`;
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{say('Duplicates in {label}', { label: table.label })}</h1>
      </div>
      <DuplicateCriteria
        table={table}
        {...draft}
        onChange={(by) => setDraft({ ...draft, by })}
        onSearch={(search) => setDraft({ ...draft, search })}
        onFind={() => {
          const by = draft.by.map((one) => `${one.field}:${one.how}`).join(',');
          setAddress({ by, ...(draft.search === '' ? {} : { find: draft.search }) });
          if (JSON.stringify(draft) === JSON.stringify(asked)) void found.refetch();
        }}
      />
      {found.isFetching && <Waiting what={say('Comparing the records…')} />}
      {found.isError && (
        <p className={textCss.problem} role="alert">
          {found.error.message}
        </p>
      )}
      <div className={mergingCss.beside}>
        {found.data && !found.isFetching && <Groups found={found.data} chosen={chosen} onChoose={show} />}
        {chosen.length > 1 && (
          <ComparedRecords
            key={chosen.join()}
            table={table}
            records={chosen}
            path={path}
            onMerged={() => {
              show([]);
              if (asked) void found.refetch();
            }}
            onLeave={() => show([])}
          />
        )}
      </div>
    </div>
  );
}

/** By which fields duplicates are looked for, among the records that a search finds. */
interface Asked {
  readonly by: DuplicatesBy;
  readonly search: string;
}

/** How the address says that duplicates are looked for; undefined where it says nothing that can be read. */
function askedIn(address: URLSearchParams, table: TableDefinition): Asked | undefined {
  const by = (address.get('by') ?? '').split(',').flatMap((part) => {
    const [field = '', how] = part.split(':');
    const known = MATCH_MODES.find((one) => one.name === how);
    return known && table.fields.some((one) => one.id === field) ? [{ field, how: known.name }] : [];
  });
  return by.length > 0 ? { by, search: address.get('find') ?? '' } : undefined;
}

interface GroupsProps {
  readonly found: DuplicatesFound;
  readonly chosen: readonly number[];
  onChoose(records: readonly number[]): void;
}

/** The groups that were found, one of which is compared beside. */
function Groups({ found: { groups, total, more }, chosen, onChoose }: GroupsProps) {
  if (total === 0)
    return (
      <p className={pageCss.empty} role="status">
        {say(
          'No records are alike in this. Compare by fewer fields, less exactly, or among more records, to find more.',
        )}
      </p>
    );
  return (
    <nav className={mergingCss.groups} aria-label={say('Groups of records that are alike')}>
      <p role="status">
        {sayWith('{total} of records that are alike{count}{more}.', {
          total: sayCount(total, '{count} group', '{count} groups'),
          count: groups.length < total && say(', the first {count} shown', { count: groups.length }),
          more: more && say('; there are more, so compare by more fields'),
        })}
      </p>
      <ul>
        {groups.map(({ records }) => {
          const compared = records.slice(0, MOST_MERGED).map((one) => one.id);
          return (
            <li key={compared[0]}>
              <ListItemButton selected={compared.join() === chosen.join()} onClick={() => onChoose(compared)}>
                <ListItemText
                  primary={records[0]?.title}
                  secondary={
                    <>
                      {othersIn(records.slice(1).map((one) => one.title))}
                      {records.length > MOST_MERGED &&
                        say('. The first {mostMerged} are compared: merge these, then find again.', {
                          mostMerged: MOST_MERGED,
                        })}
                    </>
                  }
                />
              </ListItemButton>
            </li>
          );
        })}
      </ul>
    </nav>
  );
}

const NAMED = 3;
const othersIn = (titles: readonly string[]): string =>
  titles.length <= NAMED
    ? titles.join(' · ')
    : say('{list} and {count} more', {
        list: titles.slice(0, NAMED).join(' · '),
        count: formatCount(titles.length - NAMED),
      });
