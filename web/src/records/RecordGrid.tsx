import { say, sayCount } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import { columnOf, type Listing, plainListing, summariesUnder } from '@fiche/core/views';
import { clsx } from 'clsx';
import { type ReactNode, useState } from 'react';
import { useSearchParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { CheckField, FindInput, pageCss, sayWith, textCss } from '../parts/index.ts';
import { GridRows } from './GridRows.tsx';
import gridCss from './grid.module.css';
import { type RecordFilter, recordFilterOf, withFilter } from './recordFilter.ts';
import type { GridProps } from './useGrid.ts';
import { useRecords } from './useRecords.ts';
import type { Selecting } from './useSelecting.ts';

interface RecordGridProps {
  readonly table: TableDefinition;
  readonly path: string;
  /** `field:id`: only the records whose link points there. */
  readonly linking?: string;
  /** What is listed; all fields of all records without. */
  readonly listing?: Listing;
  /** What stands behind the address of every card that is opened from here. */
  readonly search?: string;
  /** What stands before the search: which view it is. */
  readonly before?: ReactNode;
  /** What can be done with the list. */
  readonly acts?: ReactNode;
  /** The sentence that says which records are listed. */
  readonly filter?: ReactNode;
  /** It takes the height that the page leaves it. */
  readonly fills?: boolean;
  /** Which records are selected; without it none can be. */
  readonly selecting?: Selecting;
  /** What can be done with the records that are selected, of so many that are found. */
  selected?(total: number): ReactNode;
  /** Records are changed in the list. */
  readonly editing?: GridProps['editing'];
  /** A card that stands beside the list. */
  readonly cardBeside?: GridProps['cardBeside'];
  /** A heading was clicked; without it the list sorts itself. */
  onSort?(path: string): void;
  /** Columns were made wider or narrower, by path, in px; without it that lasts as long as the page. */
  onWidths?(widths: Readonly<Record<string, number>>): void;
  /** A column was moved to another place. */
  onMove?(from: number, to: number): void;
}

/** A table's records, page by page as they are scrolled to; only the rows in sight are drawn. */
export function RecordGrid({ table, path, linking, before, acts, filter: sentence, ...props }: RecordGridProps) {
  const { tables } = useOffice();
  const [address, setAddress] = useSearchParams();
  const filter = recordFilterOf(address);
  const setFilter = (change: Partial<RecordFilter>): void =>
    setAddress((now) => withFilter(now, change), { replace: true });
  const [sort, setSort] = useState<Listing['sort']>([]);
  const [widths, setWidths] = useState<Readonly<Record<string, number>>>({});
  const listing = props.listing ?? plainlyListed(table, sort, widths);
  const sortItself = (by: string): void =>
    setSort([{ path: by, direction: sort[0]?.path === by && sort[0].direction === 'up' ? 'down' : 'up' }]);
  const found = useRecords(table.id, listing, filter, linking);
  const { total } = found;
  const columns = listing.columns.flatMap((one) => columnOf(tables, table.id, one) ?? []);
  return (
    <>
      <div className={pageCss.tools}>
        {before}
        <FindInput
          label={say('Find in {label}', { label: table.label })}
          value={filter.search}
          onChange={(search) => setFilter({ search })}
        />
        <CheckField
          label={say('Archived')}
          checked={filter.archived === 'yes'}
          onChange={(on) => setFilter({ archived: on ? 'yes' : 'no' })}
        />
        <span className={textCss.faded} role="status">
          {found.counted ? sayCount(total, '{count} record', '{count} records') : say('Counting records…')}
          {linking &&
            ` ${say('that link there by {label}', { label: table.fields.find((field) => field.id === linking.split(':')[0])?.label ?? '' })}`}
        </span>
      </div>
      {(sentence || acts) && (
        <div className={gridCss.aboveRows}>
          {sentence && <div className={gridCss.filter}>{sentence}</div>}
          {acts && <div className={gridCss.acts}>{acts}</div>}
        </div>
      )}
      {found.problem !== undefined && (
        <p className={pageCss.empty} role="alert">
          {found.problem}
        </p>
      )}
      {found.known && total === 0 ? (
        <NoRecords label={table.label} filter={filter} filtered={listing.filter.of.length > 0} />
      ) : (
        <GridRows
          table={table}
          path={path}
          search={props.search ?? ''}
          columns={columns}
          listing={listing}
          total={total}
          groups={found.groups}
          foot={summariesUnder(listing, columns, found.summaries)}
          fills={props.fills === true}
          selecting={props.selecting}
          recordAt={found.recordAt}
          readRecords={found.readRecords}
          onSight={found.onSight}
          onSort={props.onSort ?? sortItself}
          onWidths={props.onWidths ?? ((made) => setWidths((now) => ({ ...now, ...made })))}
          onMove={props.onMove}
          editing={props.editing}
          cardBeside={props.cardBeside}
        />
      )}
      {props.selected?.(total)}
    </>
  );
}

/** All fields of a table, for a list without a view. */
function plainlyListed(
  table: TableDefinition,
  sort: Listing['sort'],
  widths: Readonly<Record<string, number>>,
): Listing {
  const plain = plainListing(table);
  const columns = plain.columns.map((one) => ({ ...one, width: widths[one.path] }));
  return { ...plain, columns, sort };
}

/** Why there is nothing to see, and what to do. */
function NoRecords({
  label,
  filter: { search, archived },
  filtered,
}: {
  label: string;
  filter: RecordFilter;
  filtered: boolean;
}) {
  return (
    <p className={clsx(pageCss.empty, pageCss.listCard)}>
      {search !== ''
        ? say('No {archived}record of {label} has “{search}”.', {
            archived: archived === 'yes' ? `${say('archived')} ` : '',
            label,
            search,
          })
        : archived === 'yes'
          ? say('No {filtered}record of {label} is archived.', { filtered: filtered ? `${say('such')} ` : '', label })
          : filtered
            ? say('No record of {label} is as the filter says. Change or remove a condition to see more.', { label })
            : sayWith('{name} Add the first one with {em}, or import a file.', {
                name: <strong>{say('{label} has no records yet.', { label })}</strong>,
                em: <em>{say('New record')}</em>,
              })}
    </p>
  );
}
