import type { RecordView } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import type { FieldDefinition, TableDefinition, TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useInfiniteQuery, useQueryClient } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { type ClipboardEvent, type KeyboardEvent, type Ref, useEffect, useRef, useState } from 'react';
import { ServerProblem, send, useOffice } from '../client/index.ts';
import { FieldInput, FindInput, pageCss, pastedCells, textCss, useNotify, Waiting } from '../parts/index.ts';
import combinationsCss from './combinations.module.css';
import { type Changes, NO_CHANGES, partsOf, put, type Row, rowOf, takeOut, troublesOf } from './combinations.ts';

const PAGE = 200;
const ROW = 29;

interface Page {
  readonly records: RecordView[];
  readonly after: string | null;
  readonly total: number | null;
}

/** An option list as a grid of its combinations: found, typed in, pasted from a spreadsheet, checked and saved. */
export function CombinationsTab({ table }: { table: TableDefinition }) {
  const { may } = useOffice();
  const [search, setSearch] = useState('');
  const [changes, setChanges] = useState(NO_CHANGES);
  const [refused, setRefused] = useState<ReadonlyMap<string, string>>(new Map());
  const query = useCombinations(table.id, search);
  const { save, saving } = useSave(table.id, changes, setChanges, setRefused);
  if (query.isError) return <p role="alert">{query.error.message}</p>;
  const { data: fetched } = query;
  if (!fetched) return <Waiting />;
  const rows = fetched.pages
    .flatMap((page) => page.records)
    .filter((record) => !changes.archived.has(record.id))
    .map((record) => rowOf(table, record, changes));
  const labels = table.fields.map((level) => level.label);
  const troubles = new Map([...refused, ...troublesOf(changes, rows, labels)]);
  const change = (next: Changes): void => {
    setChanges(next);
    setRefused(new Map());
  };
  const total = (fetched.pages[0]?.total ?? 0) + (search === '' ? changes.added.length - changes.archived.size : 0);
  const open = changes.added.length + changes.changed.size + changes.archived.size;
  return (
    <>
      <div className={pageCss.tools}>
        <FindInput label={say('Find in {label}', { label: table.label })} value={search} onChange={setSearch} />
        <span className={textCss.faded} role="status">
          {sayCount(total, '{count} combination', '{count} combinations')}
          {search !== '' ? ` ${say('found')}` : ''}
          {troubles.size > 0 ? say(', {size} to correct', { size: troubles.size }) : ''}
        </span>
        {may('build') && (
          <>
            <Button
              variant="contained"
              disabled={open === 0 || troubles.size > 0 || saving}
              onClick={() => void save()}
            >
              {saving
                ? say('Saving…')
                : open === 0
                  ? say('Nothing to save')
                  : say('Save {open}', { open: sayCount(open, '{count} change', '{count} changes') })}
            </Button>
            <span className={textCss.faded}>
              {say('Type in the blank row for a new one, or paste rows from a spreadsheet.')}
            </span>
          </>
        )}
      </div>
      <CombinationRows
        // What is found is seen from its top.
        key={search}
        table={table}
        rows={rows}
        changes={changes}
        troubles={troubles}
        onChange={change}
        onEnd={() => {
          // A page that is read anew is not given up for the next one.
          if (query.hasNextPage && !query.isFetching) void query.fetchNextPage();
        }}
      />
    </>
  );
}

const useCombinations = (table: TableId, search: string) =>
  useInfiniteQuery({
    queryKey: ['combinations', table, search],
    initialPageParam: '',
    queryFn: ({ pageParam, signal }) => {
      const asked = new URLSearchParams({ limit: String(PAGE), search, ...(pageParam ? { after: pageParam } : {}) });
      return send<Page>('GET', `/api/tables/${table}/records?${asked}`, undefined, {}, signal);
    },
    getNextPageParam: (page) => page.after,
    placeholderData: (before) => before,
    staleTime: 0,
    gcTime: 0,
  });

/** Saves the changes, in parts where there are many; what a part has saved is not sent again. */
function useSave(
  table: TableId,
  changes: Changes,
  setChanges: (next: Changes) => void,
  setRefused: (refused: ReadonlyMap<string, string>) => void,
) {
  const notify = useNotify();
  const queries = useQueryClient();
  const [saving, setSaving] = useState(false);
  const save = async (): Promise<void> => {
    setSaving(true);
    let left = changes;
    const done = { added: 0, changed: 0, archived: 0 };
    try {
      for (const { rows, body } of partsOf(changes)) {
        try {
          const answer = await send<typeof done>('POST', `/api/tables/${table}/combinations`, body);
          for (const kind of ['added', 'changed', 'archived'] as const) done[kind] += answer[kind];
        } catch (error) {
          if (error instanceof ServerProblem) setRefused(refusedRows(error, rows));
          throw error;
        }
        left = without(left, body, rows.add);
      }
      notify(
        say('Saved: {added} added, {changed} changed, {archived} archived.', {
          added: done.added,
          changed: done.changed,
          archived: done.archived,
        }),
      );
    } catch (error) {
      notify(error instanceof ServerProblem ? error.document.detail : (error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ['combinations', table] });
    void queries.invalidateQueries({ queryKey: ['records', table] });
    setChanges(left);
    setSaving(false);
  };
  return { save, saving };
}

/** The changes that a part which was saved leaves. */
function without(changes: Changes, body: ReturnType<typeof partsOf>[number]['body'], added: readonly Row[]): Changes {
  const saved = new Set(added);
  const [changed, archived] = [new Map(changes.changed), new Map(changes.archived)];
  for (const { id } of body.change) changed.delete(id);
  for (const { id } of body.archive) archived.delete(id);
  return { ...changes, added: changes.added.filter((row) => !saved.has(row)), changed, archived };
}

/** What the server said of rows that it refused, by row. */
function refusedRows(
  error: ServerProblem,
  rows: Readonly<Record<'add' | 'change', readonly Row[]>>,
): ReadonlyMap<string, string> {
  const found = error.document.errors.flatMap(({ path, message }) => {
    const [kind, at] = path.split('.');
    const row = kind === 'add' || kind === 'change' ? rows[kind][Number(at)] : undefined;
    return row ? [[row.key, message] as const] : [];
  });
  return new Map(found);
}

interface RowsProps {
  readonly table: TableDefinition;
  readonly rows: readonly Row[];
  readonly changes: Changes;
  readonly troubles: ReadonlyMap<string, string>;
  onChange(next: Changes): void;
  /** The last of the rows that are here is nearly in sight. */
  onEnd(): void;
}

/** The rows, of which only those in sight are drawn: new ones, the blank one, those that are there. */
function CombinationRows({ table, rows, changes, troubles, onChange, onEnd }: RowsProps) {
  const { may } = useOffice();
  const box = useRef<HTMLDivElement>(null);
  const wanted = useRef<string>(undefined);
  const levels = table.fields;
  const blank: Row = { key: `new-${changes.made}`, levels: levels.map(() => '') };
  const shown = may('build') ? [...changes.added, blank, ...rows] : rows;
  const drawn = useVirtualizer({
    count: shown.length,
    getScrollElement: () => box.current,
    getItemKey: (at) => shown[at]?.key ?? at,
    estimateSize: () => ROW,
    overscan: 12,
  });
  const items = drawn.getVirtualItems();
  const last = items.at(-1);
  useEffect(() => {
    if ((last?.index ?? 0) >= shown.length - 40) onEnd();
    if (wanted.current === undefined) return;
    const field = document.getElementById(wanted.current);
    if (!field) return;
    wanted.current = undefined;
    field.focus();
  });
  const paste = (event: ClipboardEvent, at: number, level: number): void => {
    const text = event.clipboardData.getData('text');
    if (!/[\t\n]/.test(text)) return;
    event.preventDefault();
    void pastedCells(text).then((lines) => onChange(put(changes, rows, at, level, lines, levels.length)));
  };
  const onKeyDown = (event: KeyboardEvent, at: number, level: number): void => {
    const to = { ArrowDown: at + 1, Enter: at + 1, ArrowUp: at - 1 }[event.key];
    if (to === undefined || to < 0 || to >= shown.length) return;
    event.preventDefault();
    const field = document.getElementById(`level-${to}-${level}`);
    if (field) field.focus();
    else {
      wanted.current = `level-${to}-${level}`;
      drawn.scrollToIndex(to);
    }
  };
  const space = (height: number) =>
    height > 0 && (
      <TableRow aria-hidden="true">
        <TableCell colSpan={levels.length + 1} style={{ height, padding: 0, border: 0 }} />
      </TableRow>
    );
  return (
    <div className={clsx(pageCss.listCard, combinationsCss.combinations)} ref={box}>
      <Table className={pageCss.list} aria-rowcount={shown.length + 1}>
        <TableHead>
          <TableRow>
            {levels.map((level) => (
              <TableCell scope="col" key={level.id}>
                {level.label}
              </TableCell>
            ))}
            <TableCell scope="col">
              <span className={textCss.visuallyHidden}>{say('Act')}</span>
            </TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {space(items[0]?.start ?? 0)}
          {items.map(({ index: at, key }) => {
            const row = shown[at] as Row;
            return (
              <CombinationRow
                key={key}
                ref={drawn.measureElement}
                row={row}
                at={at}
                levels={levels}
                isBlank={row === blank}
                trouble={troubles.get(row.key)}
                onPut={(column, text) => onChange(put(changes, rows, at, column, [[text]], levels.length))}
                onPaste={(event, column) => paste(event, at, column)}
                onKeyDown={(event, column) => onKeyDown(event, at, column)}
                onTakeOut={() => onChange(takeOut(changes, row))}
              />
            );
          })}
          {space(drawn.getTotalSize() - (last?.end ?? 0))}
        </TableBody>
      </Table>
    </div>
  );
}

interface RowProps {
  readonly ref: Ref<HTMLTableRowElement>;
  readonly row: Row;
  readonly at: number;
  readonly levels: readonly FieldDefinition[];
  readonly isBlank: boolean;
  /** Why the server refused it. */
  readonly trouble: string | undefined;
  onPut(level: number, text: string): void;
  onPaste(event: ClipboardEvent, level: number): void;
  onKeyDown(event: KeyboardEvent, level: number): void;
  onTakeOut(): void;
}

/** One combination: a word for each level, and taking it out. */
function CombinationRow({ ref, row, at, levels, isBlank, trouble, ...on }: RowProps) {
  const { may } = useOffice();
  const builds = may('build');
  const act = row.record ? say('Archive') : say('Remove');
  return (
    <TableRow
      ref={ref}
      data-index={at}
      aria-rowindex={at + 2}
      className={trouble === undefined ? undefined : combinationsCss.wrong}
    >
      {levels.map((level, column) => (
        <TableCell key={level.id}>
          <FieldInput
            id={`level-${at}-${column}`}
            aria-label={say('{label}, row {at}', { label: level.label, at: at + 1 })}
            aria-invalid={trouble !== undefined || undefined}
            readOnly={!builds}
            placeholder={isBlank && column === 0 ? say('New') : undefined}
            value={row.levels[column]}
            onPaste={(event) => on.onPaste(event, column)}
            onKeyDown={(event) => on.onKeyDown(event, column)}
            onChange={(event) => on.onPut(column, event.target.value)}
          />
        </TableCell>
      ))}
      <TableCell>
        {!isBlank && builds && (
          <Button
            variant="text"
            aria-label={say('{act} row {at}, {list}', { act, at: at + 1, list: row.levels.join(' › ') })}
            onClick={on.onTakeOut}
          >
            {act}
          </Button>
        )}{' '}
        {trouble !== undefined && <span className={textCss.problem}>{trouble}</span>}
      </TableCell>
    </TableRow>
  );
}
