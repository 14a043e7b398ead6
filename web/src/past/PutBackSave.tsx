import type { LineView, PutBackAnswer } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router-dom';
import { PutBack } from '../changes/index.ts';
import { send, useOffice } from '../client/index.ts';
import { ledgerLineCss, Sheet, sayWith, textCss, useNotify, Waiting } from '../parts/index.ts';
import pastCss from './past.module.css';

/** Which save: the number that all of its lines have, and their moment. */
export type SaveId = Pick<LineView, 'transaction' | 'at'>;

interface PutBackSaveProps {
  readonly save: SaveId;
  /** Called once it is written. */
  onWritten?(): void;
  onClose(): void;
}

const BECOMES = {
  changed: say('is put back'),
  archived: say('goes out of use'),
  restored: say('comes back into use'),
  same: say('is as it was'),
};

/** Puts one save back with all that belongs to it: what would become of each record is shown before anything is written. */
export function PutBackSave({ save: { transaction, at }, onWritten, onClose }: PutBackSaveProps) {
  const { cabinet } = useOffice();
  const notify = useNotify();
  const queries = useQueryClient();
  const url = `/api/cabinets/${cabinet.id}/saves/${transaction}/put-back`;
  const ask = (what: 'look' | 'all' | 'possible') => send<PutBackAnswer>('POST', url, { do: what, at });
  const looked = useQuery({
    queryKey: ['put-back', transaction, at],
    queryFn: () => ask('look'),
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
  const write = useMutation({
    mutationFn: ask,
    onSuccess: async ({ counts }) => {
      await queries.invalidateQueries();
      notify(say('{back} put back. This is a change of its own in the history.', { back: records(counts.back) }));
      onWritten?.();
      onClose();
    },
    onError: (error) => {
      notify(error.message);
      void looked.refetch();
    },
  });
  const found = looked.data;
  return (
    <Sheet title={say('Put this save back')} onClose={onClose}>
      {looked.isPending && <Waiting what={say('Looking at what it wrote…')} />}
      {looked.isError && (
        <p className={textCss.problem} role="alert">
          {looked.error.message}
        </p>
      )}
      {found?.parts && <PutBackParts parts={found.parts} save={{ transaction, at }} />}
      {found && !found.parts && (
        <>
          <p role="status">
            {sayWith('{back} would be put back{stay}{same}{unseen}.', {
              back: records(found.counts.back),
              stay: found.counts.stay > 0 && say(', {stay} cannot be', { stay: formatCount(found.counts.stay) }),
              same:
                found.counts.same > 0 &&
                say(', {same} stand as before already', { same: formatCount(found.counts.same) }),
              unseen:
                found.counts.unseen > 0 &&
                say(', {unseen} that you do not see stay as they are', { unseen: formatCount(found.counts.unseen) }),
            })}
          </p>
          <p className={pastCss.acts}>
            <Button
              disabled={found.counts.back === 0 || write.isPending}
              onClick={() => write.mutate(found.counts.stay > 0 ? 'possible' : 'all')}
            >
              {found.counts.stay > 0 ? say('Put back those that can be') : say('Put back')}
            </Button>
            <Button variant="text" onClick={onClose}>
              {say('Leave it')}
            </Button>
          </p>
          {found.records.map((one) => (
            <RecordBack key={`${one.table} ${one.record}`} one={one} path={`/${cabinet.id}/tables`} />
          ))}
          {found.records.length < found.counts.back + found.counts.stay + found.counts.same && (
            <p className={textCss.faded}>{say('Only the first {count} are shown.', { count: found.records.length })}</p>
          )}
        </>
      )}
    </Sheet>
  );
}

type Parts = NonNullable<PutBackAnswer['parts']>;

/** A save of too many records to be put back at once: what it added and what it changed of each table, each put back by itself. */
function PutBackParts({ parts, save }: { readonly parts: Parts; readonly save: SaveId }) {
  const { tables } = useOffice();
  const [opened, setOpened] = useState<{ table: TableDefinition; part: 'added' | 'changed' }>();
  if (opened) {
    const { table, part } = opened;
    return <PutBack key={`${table.id} ${part}`} table={table} what={{ ...save, part }} />;
  }
  const act = (table: TableDefinition, part: 'added' | 'changed', count: number) =>
    count > 0 && (
      <Button variant="text" onClick={() => setOpened({ table, part })}>
        {part === 'added'
          ? say('Archive the {count} that it added', { count: records(count) })
          : say('Put back the {count} that it changed', { count: records(count) })}
      </Button>
    );
  return (
    <>
      <p role="status">
        {say(
          'This wrote too many records to be put back at once. Each part is checked in the background, and written where nothing stands against it.',
        )}
      </p>
      <ul className={pastCss.parts}>
        {parts.map(({ table: id, added, changed }) => {
          const table = tables.get(id);
          return (
            table && (
              <li key={id}>
                <strong>{table.label}</strong>
                {act(table, 'added', added)}
                {act(table, 'changed', changed)}
              </li>
            )
          );
        })}
      </ul>
    </>
  );
}

const records = (count: number): string => sayCount(count, '{count} record', '{count} records');

function RecordBack({ one, path }: { one: PutBackAnswer['records'][number]; path: string }) {
  return (
    <div className={ledgerLineCss.line}>
      <div>
        <span className={textCss.faded}>{one.what}</span>{' '}
        <Link to={`${path}/${one.table}/${one.record}`}>
          <strong>{one.title}</strong>
        </Link>{' '}
        {one.problem === null ? BECOMES[one.becomes] : say('stays')}
      </div>
      {one.problem !== null && <p className={textCss.problem}>{one.problem}</p>}
      {one.problem === null &&
        one.changes.map((change) => (
          <div key={change.field} className={ledgerLineCss.change}>
            {change.label}: <del>{change.before || say('blank')}</del> <span aria-hidden="true">→</span>
            <span className={textCss.visuallyHidden}>{say('becomes')}</span> <ins>{change.after || say('blank')}</ins>
          </div>
        ))}
    </div>
  );
}
