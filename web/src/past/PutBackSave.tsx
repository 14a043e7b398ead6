import type { LineView, PutBackAnswer } from '@fiche/core/api';
import { formatCount } from '@fiche/core/office';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { ledgerLineCss, Sheet, textCss, useNotify, Waiting } from '../parts/index.ts';
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
  changed: 'is put back',
  archived: 'goes out of use',
  restored: 'comes back into use',
  same: 'is as it was',
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
      notify(`${records(counts.back)} put back. This is a change of its own in the history.`);
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
    <Sheet title="Put this save back" onClose={onClose}>
      {looked.isPending && <Waiting what="Looking at what it wrote…" />}
      {looked.isError && (
        <p className={textCss.problem} role="alert">
          {looked.error.message}
        </p>
      )}
      {found && (
        <>
          <p role="status">
            {records(found.counts.back)} would be put back
            {found.counts.stay > 0 && `, ${formatCount(found.counts.stay)} cannot be`}
            {found.counts.same > 0 && `, ${formatCount(found.counts.same)} stand as before already`}
            {found.counts.unseen > 0 && `, ${formatCount(found.counts.unseen)} that you do not see stay as they are`}.
          </p>
          <p className={pastCss.acts}>
            <Button
              disabled={found.counts.back === 0 || write.isPending}
              onClick={() => write.mutate(found.counts.stay > 0 ? 'possible' : 'all')}
            >
              {found.counts.stay > 0 ? 'Put back those that can be' : 'Put back'}
            </Button>
            <Button variant="text" onClick={onClose}>
              Leave it
            </Button>
          </p>
          {found.records.map((one) => (
            <RecordBack key={`${one.table} ${one.record}`} one={one} path={`/${cabinet.id}/tables`} />
          ))}
          {found.records.length < found.counts.back + found.counts.stay + found.counts.same && (
            <p className={textCss.faded}>Only the first {found.records.length} are shown.</p>
          )}
        </>
      )}
    </Sheet>
  );
}

const records = (count: number): string => `${formatCount(count)} ${count === 1 ? 'record' : 'records'}`;

function RecordBack({ one, path }: { one: PutBackAnswer['records'][number]; path: string }) {
  return (
    <div className={ledgerLineCss.line}>
      <div>
        <span className={textCss.faded}>{one.what}</span>{' '}
        <Link to={`${path}/${one.table}/${one.record}`}>
          <strong>{one.title}</strong>
        </Link>{' '}
        {one.problem === null ? BECOMES[one.becomes] : 'stays'}
      </div>
      {one.problem !== null && <p className={textCss.problem}>{one.problem}</p>}
      {one.problem === null &&
        one.changes.map((change) => (
          <div key={change.field} className={ledgerLineCss.change}>
            {change.label}: <del>{change.before || 'blank'}</del> <span aria-hidden="true">→</span>
            <span className={textCss.visuallyHidden}>becomes</span> <ins>{change.after || 'blank'}</ins>
          </div>
        ))}
    </div>
  );
}
