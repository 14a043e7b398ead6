import type { RecordView } from '@fiche/core/api';
import { fieldType, isLinking, isNumbered } from '@fiche/core/fields';
import { formatCount } from '@fiche/core/office';
import { type TableDefinition, typeOf } from '@fiche/core/tables';
import TableSortLabel from '@mui/material/TableSortLabel';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { type KeyboardEvent, useEffect, useRef, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router-dom';
import { send } from '../client/index.ts';
import { CheckField, FindInput, pageCss, textCss } from '../parts/index.ts';
import gridCss from './grid.module.css';
import { recordFilterOf, withFilter } from './recordFilter.ts';

interface Page {
  readonly records: readonly RecordView[];
  readonly after: string | null;
  /** With the first page only. */
  readonly total: number | null;
}

const ROW = 29;
const PHONE_ROW = 84;
const PHONE_CELLS = 4;
/** How wide a column of a type wants to be, in px; a wider page stretches all alike. */
const WIDTHS: Readonly<Record<string, number>> = {
  longText: 170,
  text: 125,
  link: 125,
  decimal: 90,
  wholeNumber: 85,
  yesNo: 70,
  date: 105,
  dateTime: 145,
  sequence: 150,
  choice: 115,
  choices: 150,
  links: 150,
  percent: 80,
  time: 70,
  email: 160,
  phone: 130,
  webAddress: 170,
  rating: 80,
};

/** A table's records, page by page as they are scrolled to; only the rows in sight are drawn. */
export function RecordGrid({
  table,
  path,
  linking,
}: {
  table: TableDefinition;
  path: string;
  /** `field:id`: only the records whose link points there. */
  linking?: string;
}) {
  const navigate = useNavigate();
  const phone = useMediaQuery('(max-width: 700px)');
  const [address, setAddress] = useSearchParams();
  const { search, archived } = recordFilterOf(address);
  const setFilter = (change: Parameters<typeof withFilter>[1]): void =>
    setAddress((now) => withFilter(now, change), { replace: true });
  const [sort, setSort] = useState<{ field: string; direction: 'up' | 'down' }>();
  const [active, setActive] = useState(0);
  const box = useRef<HTMLDivElement>(null);
  const query = useInfiniteQuery({
    queryKey: ['records', table.id, search, sort, archived, linking],
    initialPageParam: '',
    queryFn: ({ pageParam }) => {
      const asked = new URLSearchParams({
        limit: '100',
        search,
        archived,
        ...(sort ? { sort: sort.field, direction: sort.direction } : { direction: 'down' }),
        ...(linking ? { linking } : {}),
        ...(pageParam ? { after: pageParam } : {}),
      });
      return send<Page>('GET', `/api/tables/${table.id}/records?${asked}`);
    },
    getNextPageParam: (page) => page.after,
    placeholderData: (before) => before,
  });
  const { data: fetched } = query;
  const records = fetched?.pages.flatMap((page) => page.records) ?? [];
  const total = fetched?.pages[0]?.total ?? 0;
  const rows = useVirtualizer({
    count: records.length,
    getScrollElement: () => box.current,
    estimateSize: () => (phone ? PHONE_ROW : ROW),
    overscan: 12,
  });
  const shown = rows.getVirtualItems();
  const lastShown = shown.at(-1)?.index ?? 0;
  useEffect(() => {
    if (lastShown >= records.length - 20 && query.hasNextPage && !query.isFetchingNextPage) void query.fetchNextPage();
  }, [lastShown, records.length, query]);

  const onKeyDown = (event: KeyboardEvent): void => {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 20, PageUp: -20, Home: -records.length, End: records.length }[
      event.key
    ];
    const record = records[active];
    if (step !== undefined) {
      const next = Math.max(0, Math.min(records.length - 1, active + step));
      setActive(next);
      rows.scrollToIndex(next);
    } else if (event.key === 'Enter' && record) navigate(`${path}/${record.id}`);
    else return;
    event.preventDefault();
  };
  /** On a phone a record is a card of what it has: its first column and three more. */
  const cells = (record: RecordView) =>
    phone
      ? table.fields.filter((field, at) => at === 0 || cell(record, field) !== '').slice(0, PHONE_CELLS)
      : table.fields;
  const widths = table.fields.map((field) => WIDTHS[field.type] ?? 120);
  const columns = {
    gridTemplateColumns: widths.map((width) => `minmax(0, ${width}fr)`).join(' '),
    minWidth: widths.reduce((sum, width) => sum + width, 0),
  };
  const turn = (field: string): void =>
    setSort(
      sort?.field === field && sort.direction === 'up' ? { field, direction: 'down' } : { field, direction: 'up' },
    );
  return (
    <>
      <div className={pageCss.tools}>
        <FindInput label={`Find in ${table.label}`} value={search} onChange={(text) => setFilter({ search: text })} />
        <CheckField
          label="Archived"
          checked={archived === 'yes'}
          onChange={(on) => setFilter({ archived: on ? 'yes' : 'no' })}
        />
        <span className={textCss.faded} role="status">
          {formatCount(total)} {total === 1 ? 'record' : 'records'}
          {linking &&
            ` that link there by ${table.fields.find((field) => field.id === linking.split(':')[0])?.label ?? ''}`}
        </span>
      </div>
      {query.isError && (
        <p className={pageCss.empty} role="alert">
          {query.error.message}
        </p>
      )}
      {query.data && total === 0 ? (
        <p className={clsx(pageCss.empty, pageCss.listCard)}>
          {search !== '' ? (
            `No ${archived === 'yes' ? 'archived ' : ''}record of ${table.label} has “${search}”.`
          ) : archived === 'yes' ? (
            `No record of ${table.label} is archived.`
          ) : (
            <>
              <strong>{table.label} has no records yet.</strong> Add the first one with <em>New record</em>, or import a
              file.
            </>
          )}
        </p>
      ) : (
        <div
          className={clsx(gridCss.grid, pageCss.listCard)}
          role="grid"
          aria-label={table.label}
          aria-rowcount={total + 1}
          tabIndex={0}
          onKeyDown={onKeyDown}
          ref={box}
          aria-activedescendant={records[active] ? `row-${records[active].id}` : undefined}
        >
          <div className={clsx(gridCss.head, phone && textCss.visuallyHidden)} role="row" style={columns} tabIndex={-1}>
            {table.fields.map((field) => (
              <div
                key={field.id}
                role="columnheader"
                tabIndex={-1}
                aria-sort={sort?.field === field.id ? (sort.direction === 'up' ? 'ascending' : 'descending') : 'none'}
                className={numeric(field.type)}
              >
                <TableSortLabel
                  active={sort?.field === field.id}
                  direction={sort?.field === field.id && sort.direction === 'down' ? 'desc' : 'asc'}
                  onClick={() => turn(field.id)}
                >
                  {field.label}
                </TableSortLabel>
              </div>
            ))}
          </div>
          <div
            role="presentation"
            style={{
              height: rows.getTotalSize(),
              position: 'relative',
              minWidth: phone ? undefined : columns.minWidth,
            }}
          >
            {shown.map((item) => {
              const record = records[item.index];
              if (!record) return null;
              return (
                <div
                  key={record.id}
                  id={`row-${record.id}`}
                  role="row"
                  tabIndex={-1}
                  aria-rowindex={item.index + 2}
                  className={clsx(gridCss.row, item.index === active && gridCss.active)}
                  style={{ ...(phone ? {} : columns), transform: `translateY(${item.start}px)`, height: item.size }}
                  onClick={() => navigate(`${path}/${record.id}`)}
                >
                  {cells(record).map((field) => (
                    <div key={field.id} role="gridcell" tabIndex={-1} className={numeric(field.type)}>
                      {phone && <span className={gridCss.cellLabel}>{field.label}</span>}
                      {cell(record, field)}
                    </div>
                  ))}
                </div>
              );
            })}
          </div>
        </div>
      )}
    </>
  );
}

const numeric = (type: string): string | undefined =>
  fieldType(type).family === 'number' ? gridCss.numeric : isNumbered({ type }) ? textCss.mono : undefined;

function cell(record: RecordView, field: TableDefinition['fields'][number]): string {
  const value = record.values[field.id] ?? null;
  if (value === null) return '';
  if (isLinking(field)) return record.linked[field.id]?.title ?? '';
  return typeOf(field).format(value, field.settings);
}
