import type { TableDefinition } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import type { ComponentProps } from 'react';
import { useNavigate, useSearchParams } from 'react-router-dom';
import { SelectionBar } from '../changes/index.ts';
import { useOffice } from '../client/index.ts';
import { usePast } from '../past/index.ts';
import { ALL_SELECTED, countSelected, RecordGrid, type recordFilterOf } from '../records/index.ts';
import { inView } from './answersInAddress.ts';
import type { useCardBeside } from './CardBeside.tsx';
import { sortedBy, withColumnAt, withWidths } from './listingDraft.ts';
import { chosen, comparable, exportedRecords, filled, pasted, type useSelection } from './listSelection.ts';
import type { OpenSheet } from './openSheet.ts';
import type { useListing } from './useListing.ts';

interface Props {
  readonly table: TableDefinition;
  readonly path: string;
  readonly linking: string | undefined;
  /** What the address asks for besides the listing. */
  readonly asked: ReturnType<typeof recordFilterOf> & { readonly linking?: string };
  /** The listing with the answers to what it asks each time. */
  readonly found: Listing;
  readonly shown: ReturnType<typeof useListing>;
  readonly selecting: ReturnType<typeof useSelection>;
  readonly byClick: boolean;
  readonly card: ReturnType<typeof useCardBeside>;
  setSheet(sheet: OpenSheet): void;
  /** What stands around the rows. */
  readonly children: Pick<ComponentProps<typeof RecordGrid>, 'before' | 'acts' | 'filter'>;
}

/** A listing as rows: they are sorted, selected, changed and opened here. */
export function ListedGrid(props: Props) {
  const { table, path, linking, asked, found, shown, selecting, card, setSheet } = props;
  const { may } = useOffice();
  const { asOf } = usePast();
  const [address] = useSearchParams();
  const { view, listing, show } = shown;
  const { selection, select } = selecting;
  const records = chosen(selection, found, asked);
  return (
    <RecordGrid
      fills
      table={table}
      path={path}
      {...(linking === undefined ? {} : { linking })}
      listing={found}
      // The card goes on through the view, as long as the list shows it as it is saved.
      search={asOf ? `?asOf=${encodeURIComponent(asOf)}` : view && !shown.changed ? inView(view.id, address) : ''}
      editing={
        may('change', table.id) && !asOf
          ? {
              byClick: props.byClick,
              onBlock: (block) => setSheet(pasted(block)),
              onFill: (field, value, count) => setSheet({ kind: 'set', what: filled(field, value), records, count }),
            }
          : undefined
      }
      selecting={asOf ? undefined : { selection, onSelect: select }}
      selected={(total) => <Selected {...props} total={total} />}
      cardBeside={asOf ? undefined : card.grid}
      onSort={(by) => show(sortedBy(listing, by))}
      onWidths={(widths) => show(withWidths(listing, widths))}
      onMove={(from, to) => show(withColumnAt(listing, from, to))}
      {...props.children}
    />
  );
}

/** What can be done with the selected records, of so many that are found. */
function Selected({ table, path, asked, found, selecting, setSheet, total }: Props & { readonly total: number }) {
  const navigate = useNavigate();
  const { selection, select, clear } = selecting;
  const compared = comparable(selection);
  const count = countSelected(selection, total);
  return (
    <SelectionBar
      table={table}
      count={count}
      total={total}
      archived={asked.archived === 'yes'}
      onSelectAll={() => select(ALL_SELECTED)}
      onClear={clear}
      onChange={(kind) => setSheet({ kind, records: chosen(selection, found, asked), count })}
      onMerge={compared && (() => navigate(`${path}/duplicates?records=${compared.join()}`))}
      onExport={() =>
        setSheet({ kind: 'export', selected: { records: exportedRecords(found, asked, selection), count } })
      }
    />
  );
}
