import Button from '@mui/material/Button';
import { useNotify } from '../parts/index.ts';
import { useWatches, type Watched } from './useWatches.ts';

/** Begins to watch a record or a view, or stops: changes by others come into one’s inbox. */
export function WatchButton({ what }: { what: Watched }) {
  const { known, isWatched, setWatched } = useWatches();
  const notify = useNotify();
  const watched = isWatched(what);
  const noun = 'record' in what ? 'record' : 'view';
  const change = async (): Promise<void> => {
    try {
      await setWatched(what, !watched);
      notify(
        watched
          ? `You no longer watch this ${noun}.`
          : noun === 'record'
            ? 'You watch this record: what others change in it comes into your inbox.'
            : 'You watch this view: records that others add to it or change in it come into your inbox.',
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
