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

interface ListActionsProps extends ShownList {
  readonly path: string;
  readonly byClick: boolean;
  readonly card: ReturnType<typeof useCardBeside>;
  setByClick(on: boolean): void;
  /** The list is shown as it stood once. */
  readonly past: boolean;
  onPast(): void;
  onExport(): void;
}

/** What can be done with a list: its changes saved or undone, its settings, an export. */
export function ListActions(props: ListActionsProps) {
  const { table, shown, sheet, past, onPast, onExport } = props;
  const { may } = useOffice();
  const { view, listing, changed } = shown;
  return (
    <>
      <ChangedListActions {...props} />
      <SettingsActions {...props} />
      {!past && !changed && view && <HomeButton view={view} />}
      {!past && may('history', table.id) && (
        <Button variant="text" onClick={onPast}>
          {say('As it stood')}
        </Button>
      )}
      {listing.shown.as === 'list' && !past && <RowActions {...props} />}
      {may('export', table.id) && (
        <Button variant="text" aria-expanded={isExport(sheet)} onClick={onExport}>
          {say('Export and print')}
        </Button>
      )}
    </>
  );
}

/** Saves or undoes what somebody has changed in a list. A view that is saved while the past is looked at would lose the fields of today. */
function ChangedListActions({ views, shown, setSheet, past }: ListActionsProps) {
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
  if (!changed) return null;
  return (
    <>
      {!past && view?.mayChange && (
        <Button variant="text" onClick={() => void save()}>
          {say('Save view')}
        </Button>
      )}
      {!past && (
        <Button variant="text" onClick={() => setSheet('newView')}>
          {say('Save as a view')}
        </Button>
      )}
      <Button variant="text" onClick={discard}>
        {say('Undo changes')}
      </Button>
    </>
  );
}

/** Leads to the settings of the view and of what it shows. */
function SettingsActions({ table, shown, sheet, setSheet, past }: ListActionsProps) {
  const { view, listing, changed } = shown;
  const kept = past || changed ? null : view;
  return (
    <>
      {kept && <WatchButton what={{ table: table.id, view: kept.id }} />}
      {kept?.mayChange && (
        <Button variant="text" aria-expanded={sheet === 'view'} onClick={() => setSheet('view')}>
          {say('View settings')}
        </Button>
      )}
      {listing.shown.as === 'list' ? (
        <Button variant="text" aria-expanded={sheet === 'listing'} onClick={() => setSheet('listing')}>
          {say('Columns, groups and sorting')}
        </Button>
      ) : (
        <Button variant="text" aria-expanded={sheet === 'shown'} onClick={() => setSheet('shown')}>
          {SETTINGS_OF[listing.shown.as]}
        </Button>
      )}
    </>
  );
}

/** What is done with the rows of a list of today: a card beside them, editing, duplicates. */
function RowActions({ table, path, byClick, setByClick, card }: ListActionsProps) {
  const { may } = useOffice();
  return (
    <>
      {card.fits && (
        <Button variant="text" aria-pressed={card.on} onClick={() => card.setOn(!card.on)}>
          {card.on ? say('Close the card') : say('Card beside the list')}
        </Button>
      )}
      {may('change', table.id) && (
        <Button variant="text" aria-pressed={byClick} onClick={() => setByClick(!byClick)}>
          {byClick ? say('Stop editing in the list') : say('Edit in the list')}
        </Button>
      )}
      {may('change', table.id) && may('archive', table.id) && (
        <Button variant="text" component={Link} to={`${path}/duplicates`}>
          {say('Find duplicates')}
        </Button>
      )}
    </>
  );
}
