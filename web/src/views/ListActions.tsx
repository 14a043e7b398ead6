import { say } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { WatchButton } from '../messages/index.ts';
import { useNotify } from '../parts/index.ts';
import type { useCardBeside } from './CardBeside.tsx';
import { HomeButton } from './HomeButton.tsx';
import { isExport, type ShownList } from './openSheet.ts';

/** What the settings of a way to show records are called. */
const SETTINGS_OF = {
  list: '',
  chart: say('Chart settings'),
  calendar: say('Calendar settings'),
  lanes: say('Lane settings'),
} as const;

/** What can be done with a list: its changes saved or undone, its settings, an export. */
export function ListActions({
  table,
  path,
  views,
  shown,
  sheet,
  setSheet,
  byClick,
  setByClick,
  onExport,
  card,
  past,
  onPast,
}: ShownList & {
  readonly path: string;
  readonly byClick: boolean;
  readonly card: ReturnType<typeof useCardBeside>;
  setByClick(on: boolean): void;
  /** The list is shown as it stood once. */
  readonly past: boolean;
  onPast(): void;
  onExport(): void;
}) {
  const { may } = useOffice();
  const notify = useNotify();
  const { view, listing, changed, discard } = shown;
  const save = async (): Promise<void> => {
    if (!view) return;
    try {
      const { label, shared, roles, opens, home } = view;
      await views.change(view, { label, shared, roles, opens, home, ...listing });
      discard();
      notify(say('The view {label} is saved.', { label }));
    } catch (error) {
      notify((error as Error).message);
    }
  };
  // A view that is saved while the past is looked at would lose the fields that were not there then.
  const mine = view?.mayChange === true;
  const asList = listing.shown.as === 'list';
  return (
    <>
      {!past && changed && mine && (
        <Button variant="text" onClick={() => void save()}>
          {say('Save view')}
        </Button>
      )}
      {!past && changed && (
        <Button variant="text" onClick={() => setSheet('newView')}>
          {say('Save as a view')}
        </Button>
      )}
      {changed && (
        <Button variant="text" onClick={discard}>
          {say('Undo changes')}
        </Button>
      )}
      {!past && !changed && view && <WatchButton what={{ table: table.id, view: view.id }} />}
      {!past && !changed && mine && (
        <Button variant="text" aria-expanded={sheet === 'view'} onClick={() => setSheet('view')}>
          {say('View settings')}
        </Button>
      )}
      {asList ? (
        <Button variant="text" aria-expanded={sheet === 'listing'} onClick={() => setSheet('listing')}>
          {say('Columns, groups and sorting')}
        </Button>
      ) : (
        <Button variant="text" aria-expanded={sheet === 'shown'} onClick={() => setSheet('shown')}>
          {SETTINGS_OF[listing.shown.as]}
        </Button>
      )}
      {!past && !changed && view && <HomeButton view={view} />}
      {!past && may('history', table.id) && (
        <Button variant="text" onClick={onPast}>
          {say('As it stood')}
        </Button>
      )}
      {asList && card.fits && !past && (
        <Button variant="text" aria-pressed={card.on} onClick={() => card.setOn(!card.on)}>
          {card.on ? say('Close the card') : say('Card beside the list')}
        </Button>
      )}
      {asList && may('change', table.id) && !past && (
        <Button variant="text" aria-pressed={byClick} onClick={() => setByClick(!byClick)}>
          {byClick ? say('Stop editing in the list') : say('Edit in the list')}
        </Button>
      )}
      {asList && may('change', table.id) && may('archive', table.id) && !past && (
        <Button variant="text" component={Link} to={`${path}/duplicates`}>
          {say('Find duplicates')}
        </Button>
      )}
      {may('export', table.id) && (
        <Button variant="text" aria-expanded={isExport(sheet)} onClick={onExport}>
          {say('Export and print')}
        </Button>
      )}
    </>
  );
}
