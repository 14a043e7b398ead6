import { say, sayCount } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import {
  columnAt,
  columnOf,
  columnsFor,
  isGroupable,
  isSortable,
  type KnownColumn,
  type Listing,
  MOST_CALCULATED,
  MOST_FROZEN,
  SUMMARIES,
  SUMMARY_LABELS,
  summariesOf,
} from '@fiche/core/views';
import DownIcon from '@mui/icons-material/ArrowDownward';
import UpIcon from '@mui/icons-material/ArrowUpward';
import RemoveIcon from '@mui/icons-material/Close';
import EditIcon from '@mui/icons-material/EditOutlined';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import { useOffice } from '../client/index.ts';
import { PickField, SelectField, Sheet, textCss } from '../parts/index.ts';
import { CalculatedColumn } from './CalculatedColumn.tsx';
import listingCss from './listing.module.css';
import {
  withCalculation,
  withColumn,
  withColumnAt,
  withFrozen,
  withoutColumn,
  withoutWidths,
  withSort,
  withSummary,
} from './listingDraft.ts';

interface Props {
  readonly table: TableDefinition;
  readonly listing: Listing;
  onChange(listing: Listing): void;
  onClose(): void;
}

const MOST_SORTS = 5;

/** The columns of a list in their order, and what sorts it. The list beside it follows at once. */
export function ListingSheet({ onClose, ...props }: Props) {
  return (
    <Sheet title={say('Columns, groups and sorting')} onClose={onClose}>
      <Columns {...props} />
      <Grouping {...props} />
      <Sorting {...props} />
    </Sheet>
  );
}

type PartProps = Omit<Props, 'onClose'>;

function Columns({ table, listing, onChange }: PartProps) {
  const { tables } = useOffice();
  // The calculated column that is open: its path, and none for a new one.
  const [calculated, setCalculated] = useState<string>();
  const shown = new Set(listing.columns.map((one) => one.path));
  const free = columnsFor(tables, table).filter((column) => !shown.has(column.path));
  return (
    <section aria-label={say('Columns')}>
      <h3 className={listingCss.part}>{say('Columns')}</h3>
      <ol className={listingCss.columns}>
        {listing.columns.map((one, at) => (
          <ColumnRow
            key={one.path}
            {...{ table, listing, onChange, one, at }}
            onCalculation={() => setCalculated(one.path)}
          />
        ))}
      </ol>
      <PickField
        // Empty again after each column that was added.
        key={listing.columns.length}
        id="add-column"
        label={say('Add a column')}
        options={free.map(({ path, label }) => ({ value: path, label }))}
        value=""
        onPick={(path) => path !== '' && onChange(withColumn(listing, path))}
      />
      {calculated === undefined ? (
        listing.columns.filter((one) => one.calculation).length < MOST_CALCULATED && (
          <Button variant="text" onClick={() => setCalculated('')}>
            {say('Add a calculated column')}
          </Button>
        )
      ) : (
        <CalculatedColumn
          key={calculated}
          table={table}
          calculation={listing.columns.find((one) => one.path === calculated)?.calculation}
          onSet={(calculation) => onChange(withCalculation(listing, calculated, calculation))}
          onClose={() => setCalculated(undefined)}
        />
      )}
      <Placing listing={listing} onChange={onChange} />
    </section>
  );
}

interface ColumnRowProps extends PartProps {
  readonly one: Listing['columns'][number];
  /** Its place among the columns, from 0. */
  readonly at: number;
  onCalculation(): void;
}

/** One column of a list: what stands under it, its calculation, its place. */
function ColumnRow({ table, listing, onChange, one, at, onCalculation }: ColumnRowProps) {
  const { tables } = useOffice();
  const last = listing.columns.length - 1;
  const { path, summary, calculation } = one;
  const column = columnOf(tables, table.id, one);
  const label = column?.label ?? path;
  const summaries = column ? summariesOf(column) : [];
  return (
    <li>
      <span className={listingCss.column}>{label}</span>
      {summaries.length > 0 && (
        <SelectField
          label={say('Summary under {label}', { label })}
          hiddenLabel
          className={listingCss.summary}
          value={summary ?? ''}
          options={[
            { value: '', label: say('no summary') },
            ...summaries.map((one) => ({ value: one, label: say(SUMMARY_LABELS[one]) })),
          ]}
          onChange={(to) =>
            onChange(
              withSummary(
                listing,
                path,
                SUMMARIES.find((one) => one === to),
              ),
            )
          }
        />
      )}
      <span className={listingCss.moves}>
        {calculation && (
          <IconButton aria-label={say('Change the calculation of {label}', { label })} onClick={onCalculation}>
            <EditIcon />
          </IconButton>
        )}
        <IconButton
          aria-label={say('Move {label} up', { label })}
          disabled={at === 0}
          onClick={() => onChange(withColumnAt(listing, at, at - 1))}
        >
          <UpIcon />
        </IconButton>
        <IconButton
          aria-label={say('Move {label} down', { label })}
          disabled={at === last}
          onClick={() => onChange(withColumnAt(listing, at, at + 1))}
        >
          <DownIcon />
        </IconButton>
        <IconButton
          aria-label={say('Remove column {label}', { label })}
          disabled={last === 0}
          onClick={() => onChange(withoutColumn(listing, path))}
        >
          <RemoveIcon />
        </IconButton>
      </span>
    </li>
  );
}

/** How many columns stay in sight, and a way back from widths that were drawn. */
function Placing({ listing, onChange }: Pick<Props, 'listing' | 'onChange'>) {
  const counts = Array.from({ length: Math.min(MOST_FROZEN, listing.columns.length) + 1 }, (_, count) => count);
  return (
    <>
      <SelectField
        label={say('While scrolling sideways')}
        className={listingCss.frozen}
        value={String(Math.min(listing.frozen, counts.length - 1))}
        options={counts.map((count) => ({
          value: String(count),
          label:
            count === 0
              ? say('all columns move')
              : sayCount(count, 'the first column stays', 'the first {count} columns stay'),
        }))}
        onChange={(to) => onChange(withFrozen(listing, Number(to)))}
      />
      {listing.columns.some((one) => one.width !== undefined) && (
        <Button variant="text" onClick={() => onChange(withoutWidths(listing))}>
          {say('Reset the widths of columns')}
        </Button>
      )}
    </>
  );
}

/** What records stand together by. */
function Grouping({ table, listing, onChange }: PartProps) {
  const { tables } = useOffice();
  const columns = columnsFor(tables, table).filter(isGroupable);
  return (
    <section aria-label={say('Groups')}>
      <h3 className={listingCss.part}>{say('Groups')}</h3>
      <SelectField
        label={say('Records with the same value stand together')}
        className={listingCss.grouping}
        value={listing.group ?? ''}
        options={[
          { value: '', label: say('no groups') },
          ...columns.map(({ path, label }) => ({ value: path, label: say('by {label}', { label }) })),
        ]}
        onChange={(path) => onChange({ ...listing, group: path === '' ? null : path })}
      />
    </section>
  );
}

const DIRECTIONS = [
  { value: 'up', label: say('ascending') },
  { value: 'down', label: say('descending') },
] as const;

function Sorting({ table, listing, onChange }: PartProps) {
  const { tables } = useOffice();
  const sortable = columnsFor(tables, table).filter(isSortable);
  const used = new Set(listing.sort.map((one) => one.path));
  const options = (own: string | undefined) =>
    sortable
      .filter(({ path }: KnownColumn) => path === own || !used.has(path))
      .map(({ path, label }) => ({ value: path, label }));
  const [next] = options(undefined);
  return (
    <section aria-label={say('Sorting')}>
      <h3 className={listingCss.part}>{say('Sorting')}</h3>
      {listing.sort.length === 0 && <p className={textCss.faded}>{say('The newest records come first.')}</p>}
      <ol className={listingCss.columns}>
        {listing.sort.map(({ path, direction }, at) => (
          <li key={path}>
            <SelectField
              label={at === 0 ? say('Sorted by') : say('then by')}
              className={listingCss.sortField}
              value={path}
              options={options(path)}
              onChange={(to) => onChange(withSort(listing, at, { path: to, direction }))}
            />
            <SelectField
              label={say('Direction')}
              hiddenLabel
              value={direction}
              options={[...DIRECTIONS]}
              onChange={(to) => onChange(withSort(listing, at, { path, direction: to === 'down' ? 'down' : 'up' }))}
            />
            <IconButton
              aria-label={say('Do not sort by {label}', { label: columnAt(tables, table.id, path)?.label ?? path })}
              onClick={() => onChange(withSort(listing, at, undefined))}
            >
              <RemoveIcon />
            </IconButton>
          </li>
        ))}
      </ol>
      {next && listing.sort.length < MOST_SORTS && (
        <Button
          variant="text"
          onClick={() => onChange(withSort(listing, listing.sort.length, { path: next.value, direction: 'up' }))}
        >
          {listing.sort.length === 0 ? say('Sort by a column') : say('Then by another column')}
        </Button>
      )}
    </section>
  );
}
