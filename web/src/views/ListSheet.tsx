import { ChangeSheet } from '../changes/index.ts';
import { ExportSheet, type SelectedRecords } from '../exports/index.ts';
import { ListingSheet } from './ListingSheet.tsx';
import { isExport, type ShownList } from './openSheet.ts';
import { ShownSheet } from './ShownSheet.tsx';
import { ViewSheet } from './ViewSheet.tsx';

/** The sheet beside a list, one at a time: its columns and sorting, the view that it is saved as, a change of what is selected. */
export function ListSheet({
  table,
  views,
  shown,
  sheet,
  setSheet,
  all,
  onWritten,
}: ShownList & {
  /** All that the list finds. */
  readonly all: SelectedRecords;
  onWritten(): void;
}) {
  const { view, listing, show, discard, open } = shown;
  const close = (): void => setSheet(undefined);
  if (isExport(sheet))
    return (
      <ExportSheet
        key={JSON.stringify(sheet)}
        table={table}
        records={sheet.selected?.records ?? all}
        count={sheet.selected?.count}
        name={view?.label ?? table.label}
        onClose={close}
      />
    );
  if (typeof sheet === 'object')
    return <ChangeSheet key={JSON.stringify(sheet)} table={table} {...sheet} onWritten={onWritten} onClose={close} />;
  if (sheet === 'shown')
    return (
      <ShownSheet
        table={table}
        shown={listing.shown}
        onChange={(next) => show({ ...listing, shown: next })}
        onClose={close}
      />
    );
  if (sheet === 'listing') return <ListingSheet table={table} listing={listing} onChange={show} onClose={close} />;
  // The settings are those of the view that is open: another one gets a sheet of its own.
  if (sheet === undefined || (sheet === 'view' && !view)) return null;
  return (
    <ViewSheet
      key={`${sheet}-${view?.id}`}
      view={sheet === 'view' ? view : undefined}
      listing={listing}
      views={views}
      onSaved={({ id }) => {
        discard();
        open(id);
        close();
      }}
      onDeleted={() => {
        discard();
        open(undefined);
        close();
      }}
      onClose={close}
    />
  );
}
