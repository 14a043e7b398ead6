import type { RecordView } from '@fiche/core/api';
import { isLinking, isNumbered } from '@fiche/core/fields';
import { formatCount } from '@fiche/core/office';
import { type FieldDefinition, type TableDefinition, typeOf } from '@fiche/core/tables';
import TableSortLabel from '@mui/material/TableSortLabel';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { type CSSProperties, type KeyboardEvent, useEffect, useRef, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router-dom';
import { CheckField, FindInput, pageCss, textCss } from '../parts/index.ts';
import gridCss from './grid.module.css';
import { type RecordFilter, recordFilterOf, withFilter } from './recordFilter.ts';
import { type Sort, useRecords } from './useRecords.ts';

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

interface RecordGridProps {
  readonly table: TableDefinition;
  readonly path: string;
  /** `field:id`: only the records whose link points there. */
  readonly linking?: string;
}

/** A table's records, page by page as they are scrolled to; only the rows in sight are drawn. */
export function RecordGrid({ table, path, linking }: RecordGridProps) {
  const [address, setAddress] = useSearchParams();
  const filter = recordFilterOf(address);
  const setFilter = (change: Partial<RecordFilter>): void =>
    setAddress((now) => withFilter(now, change), { replace: true });
  const [sort, setSort] = useState<Sort>();
  const { query, records, total } = useRecords(table.id, filter, sort, linking);
  return (
    <>
      <div className={pageCss.tools}>
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
      </div>
      {query.isError && (
        <p className={pageCss.empty} role="alert">
          {query.error.message}
        </p>
      )}
      {query.data && total === 0 ? (
        <NoRecords label={table.label} filter={filter} />
      ) : (
        <Rows
          table={table}
          path={path}
          records={records}
          total={total}
          sort={sort}
          onSort={setSort}
          onEnd={() => {
            if (query.hasNextPage && !query.isFetchingNextPage) void query.fetchNextPage();
          }}
        />
      )}
    </>
  );
}

/** Why there is nothing to see, and what to do. */
function NoRecords({ label, filter: { search, archived } }: { label: string; filter: RecordFilter }) {
  return (
    <p className={clsx(pageCss.empty, pageCss.listCard)}>
      {search !== '' ? (
        `No ${archived === 'yes' ? 'archived ' : ''}record of ${label} has “${search}”.`
      ) : archived === 'yes' ? (
        `No record of ${label} is archived.`
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
  readonly records: readonly RecordView[];
  readonly total: number;
  readonly sort: Sort | undefined;
  onSort(sort: Sort): void;
  /** The last rows that are known come into sight. */
  onEnd(): void;
}

/** The rows in sight, walked by arrow keys and opened by Enter or a click; on a phone each is a small card. */
function Rows({ table, path, records, total, sort, onSort, onEnd }: RowsProps) {
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
  const widths = table.fields.map((field) => WIDTHS[field.type] ?? 120);
  const columns = {
    gridTemplateColumns: widths.map((width) => `minmax(0, ${width}fr)`).join(' '),
    minWidth: widths.reduce((sum, width) => sum + width, 0),
  };
  return (
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
      <Head fields={table.fields} sort={sort} hidden={phone} style={columns} onSort={onSort} />
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
                {(phone ? cardFields(table, record) : table.fields).map((field) => (
                  <div key={field.id} role="gridcell" tabIndex={-1} className={cellClass(field)}>
                    {phone && <span className={gridCss.cellLabel}>{field.label}</span>}
                    {cell(record, field)}
                  </div>
                ))}
              </div>
            )
          );
        })}
      </div>
    </div>
  );
}

interface HeadProps {
  readonly fields: readonly FieldDefinition[];
  readonly sort: Sort | undefined;
  readonly hidden: boolean;
  readonly style: CSSProperties;
  onSort(sort: Sort): void;
}

/** The names of the columns; a click sorts by one, a second one the other way. */
function Head({ fields, sort, hidden, style, onSort }: HeadProps) {
  return (
    <div className={clsx(gridCss.head, hidden && textCss.visuallyHidden)} role="row" style={style} tabIndex={-1}>
      {fields.map((field) => {
        const direction = sort?.field === field.id ? sort.direction : undefined;
        return (
          <div
            key={field.id}
            role="columnheader"
            tabIndex={-1}
            aria-sort={direction === undefined ? 'none' : direction === 'up' ? 'ascending' : 'descending'}
            className={isNumber(field) ? gridCss.numeric : undefined}
          >
            <TableSortLabel
              active={direction !== undefined}
              direction={direction === 'down' ? 'desc' : 'asc'}
              onClick={() => onSort({ field: field.id, direction: direction === 'up' ? 'down' : 'up' })}
            >
              {field.label}
            </TableSortLabel>
          </div>
        );
      })}
    </div>
  );
}

/** On a phone a record is a card of what it has: its first column and three more. */
const cardFields = (table: TableDefinition, record: RecordView): FieldDefinition[] =>
  table.fields.filter((field, at) => at === 0 || cell(record, field) !== '').slice(0, PHONE_CELLS);

const isNumber = (field: FieldDefinition): boolean => typeOf(field).family === 'number';

const cellClass = (field: FieldDefinition): string | undefined =>
  isNumber(field) ? gridCss.numeric : isNumbered(field) ? textCss.mono : undefined;

function cell(record: RecordView, field: FieldDefinition): string {
  const value = record.values[field.id] ?? null;
  if (value === null) return '';
  if (isLinking(field)) return record.linked[field.id]?.title ?? '';
  return typeOf(field).format(value, field.settings);
}
