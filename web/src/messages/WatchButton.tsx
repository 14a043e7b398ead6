import type { RecordId, TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useNotify } from '../parts/index.ts';
import { useWatches } from './useWatches.ts';

/** Begins to watch a record, or stops: its changes by others come into one’s inbox. */
export function WatchButton({ table, record }: { table: TableId; record: RecordId }) {
  const { known, isWatched, setWatched } = useWatches();
  const notify = useNotify();
  const watched = isWatched(table, record);
  const change = async (): Promise<void> => {
    try {
      await setWatched(table, record, !watched);
      notify(
        watched
          ? 'You no longer watch this record.'
          : 'You watch this record: what others change in it comes into your inbox.',
      );
    } catch (error) {
      notify((error as Error).message);
    }
  };
  return (
    <Button variant="text" disabled={!known} onClick={() => void change()}>
      {watched ? 'Stop watching' : 'Watch'}
    </Button>
  );
}
