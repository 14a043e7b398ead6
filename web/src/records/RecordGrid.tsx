import type { ListedRecord } from '@fiche/core/api';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import { columnAt, isSortable, type KnownColumn, type Listing, plainListing } from '@fiche/core/views';
import TableSortLabel from '@mui/material/TableSortLabel';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { type CSSProperties, type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { CheckField, FindInput, pageCss, textCss } from '../parts/index.ts';
import gridCss from './grid.module.css';
import { cardColumns, cell, cellClass, isNumber, summariesUnder, widthOf } from './gridCells.ts';
import { type RecordFilter, recordFilterOf, withFilter } from './recordFilter.ts';
import { useRecords } from './useRecords.ts';

const ROW = 29;
const PHONE_ROW = 84;
interface RecordGridProps {
  readonly table: TableDefinition;
  readonly path: string;
  /** `field:id`: only the records whose link points there. */
  readonly linking?: string;
  /** What is listed; all fields of all records without. */
  readonly listing?: Listing;
  /** What stands before the search: which view it is. */
  readonly before?: ReactNode;
  /** What can be done with the list. */
  readonly acts?: ReactNode;
  /** The sentence that says which records are listed. */
  readonly filter?: ReactNode;
  /** It takes the height that the page leaves it. */
  readonly fills?: boolean;
  /** A heading was clicked; without it the list sorts itself. */
  onSort?(path: string): void;
}

/** A table's records, page by page as they are scrolled to; only the rows in sight are drawn. */
export function RecordGrid({ table, path, linking, before, acts, filter: sentence, ...props }: RecordGridProps) {
  const { tables } = useOffice();
  const [address, setAddress] = useSearchParams();
  const filter = recordFilterOf(address);
  const setFilter = (change: Partial<RecordFilter>): void =>
    setAddress((now) => withFilter(now, change), { replace: true });
  const [sort, setSort] = useState<Listing['sort']>([]);
  const listing = props.listing ?? { ...plainListing(table), sort };
  const sortItself = (by: string): void =>
    setSort([{ path: by, direction: sort[0]?.path === by && sort[0].direction === 'up' ? 'down' : 'up' }]);
  const { query, records, total, summaries } = useRecords(table.id, listing, filter, linking);
  const columns = listing.columns.flatMap((one) => columnAt(tables, table.id, one.path) ?? []);
  return (
    <>
      <div className={pageCss.tools}>
        {before}
        <FindInput
          label={`Find in ${table.label}`}
          value={filter.search}
          onChange={(search) => setFilter({ search })}
        />
        <CheckField
          label="Archived"
          checked={filter.archived === 'yes'}
          onChange={(on) => setFilter({ archived: on ? 'yes' : 'no' })}
        />
        <span className={textCss.faded} role="status">
          {formatCount(total)} {total === 1 ? 'record' : 'records'}
          {linking &&
            ` that link there by ${table.fields.find((field) => field.id === linking.split(':')[0])?.label ?? ''}`}
        </span>
        {acts && <span className={gridCss.acts}>{acts}</span>}
      </div>
      {sentence && <div className={gridCss.filter}>{sentence}</div>}
      {query.isError && (
        <p className={pageCss.empty} role="alert">
          {query.error.message}
        </p>
      )}
      {query.data && total === 0 ? (
        <NoRecords label={table.label} filter={filter} filtered={listing.filter.of.length > 0} />
      ) : (
        <Rows
          table={table}
          path={path}
          columns={columns}
          records={records}
          total={total}
          sort={listing.sort}
          foot={summariesUnder(listing, columns, summaries)}
          fills={props.fills === true}
          onSort={props.onSort ?? sortItself}
          onEnd={() => {
            if (query.hasNextPage && !query.isFetchingNextPage) void query.fetchNextPage();
          }}
        />
      )}
    </>
  );
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
      {search !== '' ? (
        `No ${archived === 'yes' ? 'archived ' : ''}record of ${label} has “${search}”.`
      ) : archived === 'yes' ? (
        `No ${filtered ? 'such ' : ''}record of ${label} is archived.`
      ) : filtered ? (
        `No record of ${label} is as the filter says. Change or remove a condition to see more.`
      ) : (
        <>
          <strong>{label} has no records yet.</strong> Add the first one with <em>New record</em>, or import a file.
        </>
      )}
    </p>
  );
}

interface RowsProps {
  readonly table: TableDefinition;
  readonly path: string;
  readonly columns: readonly KnownColumn[];
  readonly records: readonly ListedRecord[];
  readonly total: number;
  readonly sort: Listing['sort'];
  /** What stands under the columns, by path; empty where no column has a summary. */
  readonly foot: ReadonlyMap<string, string>;
  readonly fills: boolean;
  onSort(path: string): void;
  /** The last rows that are known come into sight. */
  onEnd(): void;
}

/** The rows in sight, walked by arrow keys and opened by Enter or a click; on a phone each is a small card. */
function Rows({ table, path, columns: all, records, total, sort, foot, fills, onSort, onEnd }: RowsProps) {
  const navigate = useNavigate();
  const phone = useMediaQuery('(max-width: 700px)');
  const [active, setActive] = useState(0);
  const box = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: records.length,
    getScrollElement: () => box.current,
    estimateSize: () => (phone ? PHONE_ROW : ROW),
    overscan: 12,
  });
  const shown = rows.getVirtualItems();
  const lastShown = shown.at(-1)?.index ?? 0;
  useEffect(() => {
    if (lastShown >= records.length - 20) onEnd();
  }, [lastShown, records.length, onEnd]);
  const onKeyDown = (event: KeyboardEvent): void => {
    // The keys of a heading are its own: Enter sorts.
    if ((event.target as Element).closest('[role="columnheader"]')) return;
    const { length } = records;
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 20, PageUp: -20, Home: -length, End: length }[event.key];
    const record = records[active];
    if (step !== undefined) {
      const next = Math.max(0, Math.min(length - 1, active + step));
      setActive(next);
      rows.scrollToIndex(next);
    } else if (event.key === 'Enter' && record) navigate(`${path}/${record.id}`);
    else return;
    event.preventDefault();
  };
  const widths = all.map((column) => widthOf(column, foot.has(column.path)));
  const columns = {
    gridTemplateColumns: widths.map((width) => `minmax(0, ${width}fr)`).join(' '),
    minWidth: widths.reduce((sum, width) => sum + width, 0),
  };
  return (
    <div
      className={clsx(gridCss.grid, fills && gridCss.fills, pageCss.listCard)}
      role="grid"
      aria-label={table.label}
      aria-rowcount={total + 1}
      tabIndex={0}
      onKeyDown={onKeyDown}
      ref={box}
      aria-activedescendant={records[active] ? `row-${records[active].id}` : undefined}
    >
      <Head columns={all} sort={sort} hidden={phone} style={columns} onSort={onSort} />
      <div
        role="presentation"
        style={{ height: rows.getTotalSize(), position: 'relative', minWidth: phone ? undefined : columns.minWidth }}
      >
        {shown.map(({ index, start, size }) => {
          const record = records[index];
          return (
            record && (
              <div
                key={record.id}
                id={`row-${record.id}`}
                role="row"
                tabIndex={-1}
                aria-rowindex={index + 2}
                className={clsx(gridCss.row, index === active && gridCss.active)}
                style={{ ...(phone ? {} : columns), transform: `translateY(${start}px)`, height: size }}
                onClick={() => {
                  // Until the card is there, the keys are for the record that was clicked.
                  setActive(index);
                  navigate(`${path}/${record.id}`);
                }}
              >
                {(phone ? cardColumns(all, record) : all).map((column) => (
                  <div key={column.path} role="gridcell" tabIndex={-1} className={cellClass(column)}>
                    {phone && <span className={gridCss.cellLabel}>{column.label}</span>}
                    {cell(record, column)}
                  </div>
                ))}
              </div>
            )
          );
        })}
      </div>
      {foot.size > 0 && <Foot columns={all} foot={foot} phone={phone} style={columns} />}
    </div>
  );
}

/** The summaries under their columns; on a phone as a card of their own. */
function Foot({
  columns,
  foot,
  phone,
  style,
}: {
  columns: readonly KnownColumn[];
  foot: ReadonlyMap<string, string>;
  phone: boolean;
  style: CSSProperties;
}) {
  const shown = phone ? columns.filter((column) => foot.has(column.path)) : columns;
  return (
    <div className={gridCss.foot} role="row" style={phone ? {} : style} tabIndex={-1}>
      {shown.map((column) => (
        <div key={column.path} role="gridcell" tabIndex={-1} className={cellClass(column)}>
          {phone && <span className={gridCss.cellLabel}>{column.label}</span>}
          {foot.get(column.path)}
        </div>
      ))}
    </div>
  );
}

interface HeadProps {
  readonly columns: readonly KnownColumn[];
  readonly sort: Listing['sort'];
  readonly hidden: boolean;
  readonly style: CSSProperties;
  onSort(path: string): void;
}

/** The names of the columns; a click sorts by one, a second one the other way. */
function Head({ columns, sort, hidden, style, onSort }: HeadProps) {
  return (
    <div className={clsx(gridCss.head, hidden && textCss.visuallyHidden)} role="row" style={style} tabIndex={-1}>
      {columns.map((column) => {
        const direction = sort.find((one) => one.path === column.path)?.direction;
        return (
          <div
            key={column.path}
            role="columnheader"
            tabIndex={-1}
            aria-sort={direction === undefined ? 'none' : direction === 'up' ? 'ascending' : 'descending'}
            className={isNumber(column) ? gridCss.numeric : undefined}
          >
            {isSortable(column) ? (
              <TableSortLabel
                active={direction !== undefined}
                direction={direction === 'down' ? 'desc' : 'asc'}
                onClick={() => onSort(column.path)}
              >
                {column.label}
              </TableSortLabel>
            ) : (
              column.label
            )}
          </div>
        );
      })}
    </div>
  );
}
