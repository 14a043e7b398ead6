import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import { useState } from 'react';
import { useSearchParams } from 'react-router-dom';
import { textCss, Waiting } from '../parts/index.ts';
import { RecordGrid } from '../records/index.ts';
import { AskedValues } from './AskedValues.tsx';
import { answered, inView } from './answersInAddress.ts';
import { listingOf, sortedBy, withColumnAt, withWidths } from './listingDraft.ts';
import { useViews } from './useViews.ts';

interface Props {
  readonly table: TableDefinition;
  readonly path: string;
  readonly view: number;
}

/** The records of a view as a form shows them: sorted and arranged for as long as the page lasts. */
export function ViewRecords({ table, path, view }: Props) {
  const { views, error } = useViews(table.id);
  const [address] = useSearchParams();
  const [arranged, setArranged] = useState<Listing>();
  const found = views?.find((one) => one.id === view);
  if (error || (views && !found))
    return (
      <p className={textCss.problem} role="alert">
        {error?.message ??
          say(
            'The view that shows these records is not shared with your role. Ask a builder to share it, or to choose another for this form.',
          )}
      </p>
    );
  if (!found) return <Waiting what={say('Opening the records…')} />;
  const listing = arranged ?? listingOf(found);
  return (
    <RecordGrid
      table={table}
      path={path}
      listing={answered(listing, address)}
      search={inView(undefined, address)}
      filter={<AskedValues table={table} filter={listing.filter} />}
      onSort={(by) => setArranged(sortedBy(listing, by))}
      onWidths={(widths) => setArranged(withWidths(listing, widths))}
      onMove={(from, to) => setArranged(withColumnAt(listing, from, to))}
    />
  );
}
