import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { useNotify } from '../parts/index.ts';
import { useWatches, type Watched } from './useWatches.ts';

const BEGUN = {
  form: say('You watch this form: answers to its public page come into your inbox.'),
  record: say('You watch this record: what others change in it comes into your inbox.'),
  view: say('You watch this view: records that others add to it or change in it come into your inbox.'),
} as const;

/** Begins to watch a record, a view or a form, or stops: what others do there comes into one’s inbox. */
export function WatchButton({ what }: { what: Watched }) {
  const { known, isWatched, setWatched } = useWatches();
  const notify = useNotify();
  const watched = isWatched(what);
  const noun = 'form' in what ? 'form' : 'record' in what ? 'record' : 'view';
  const change = async (): Promise<void> => {
    try {
      await setWatched(what, !watched);
      notify(watched ? say('You no longer watch this {noun}.', { noun }) : BEGUN[noun]);
    } catch (error) {
      notify((error as Error).message);
    }
  };
  return (
    <Button variant="text" disabled={!known} onClick={() => void change()}>
      {watched ? say('Stop watching') : say('Watch')}
    </Button>
  );
}
