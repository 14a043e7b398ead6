import Button from '@mui/material/Button';
import { Link } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { WatchButton } from '../messages/index.ts';
import { useNotify } from '../parts/index.ts';
import type { useCardBeside } from './CardBeside.tsx';
import { isExport, type ShownList } from './openSheet.ts';

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
      const { label, shared, roles, opens } = view;
      await views.change(view, { label, shared, roles, opens, ...listing });
      discard();
      notify(`The view ${label} is saved.`);
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const mine = view?.mayChange === true;
  return (
    <>
      {changed && mine && (
        <Button variant="text" onClick={() => void save()}>
          Save view
        </Button>
      )}
      {changed && (
        <Button variant="text" onClick={() => setSheet('newView')}>
          Save as a view
        </Button>
      )}
      {changed && (
        <Button variant="text" onClick={discard}>
          Undo changes
        </Button>
      )}
      {!changed && view && <WatchButton what={{ table: table.id, view: view.id }} />}
      {!changed && mine && (
        <Button variant="text" aria-expanded={sheet === 'view'} onClick={() => setSheet('view')}>
          View settings
        </Button>
      )}
      <Button variant="text" aria-expanded={sheet === 'listing'} onClick={() => setSheet('listing')}>
        Columns, groups and sorting
      </Button>
      {!past && may('history', table.id) && (
        <Button variant="text" onClick={onPast}>
          As it stood
        </Button>
      )}
      {card.fits && !past && (
        <Button variant="text" aria-pressed={card.on} onClick={() => card.setOn(!card.on)}>
          {card.on ? 'Close the card' : 'Card beside the list'}
        </Button>
      )}
      {may('change', table.id) && !past && (
        <Button variant="text" aria-pressed={byClick} onClick={() => setByClick(!byClick)}>
          {byClick ? 'Stop editing in the list' : 'Edit in the list'}
        </Button>
      )}
      {may('change', table.id) && may('archive', table.id) && !past && (
        <Button variant="text" component={Link} to={`${path}/duplicates`}>
          Find duplicates
        </Button>
      )}
      {may('export', table.id) && (
        <Button variant="text" aria-expanded={isExport(sheet)} onClick={onExport}>
          Export and print
        </Button>
      )}
    </>
  );
}
