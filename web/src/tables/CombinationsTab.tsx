import type { RecordView } from '@fiche/core/api';
import type { TableDefinition } from '@fiche/core/tables';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { type ClipboardEvent, type KeyboardEvent, useState } from 'react';
import { ServerProblem, send, useOffice } from '../client/index.ts';
import { useSay, Waiting } from '../parts/index.ts';

interface Row {
  readonly key: string;
  /** The record behind it; none for a new row. */
  readonly record?: { readonly id: number; readonly version: number; readonly levels: readonly string[] };
  readonly levels: readonly string[];
}

const PAGE = 200;

async function allRecords(table: string): Promise<RecordView[]> {
  const records: RecordView[] = [];
  let after: string | null = '';
  do {
    const asked: URLSearchParams = new URLSearchParams({ limit: String(PAGE), ...(after ? { after } : {}) });
    const page: { records: RecordView[]; after: string | null } = await send(
      'GET',
      `/api/tables/${table}/records?${asked}`,
    );
    records.push(...page.records);
    after = page.after;
  } while (after !== null);
  return records;
}

/** An option list as a grid of its combinations: typed in, pasted from a spreadsheet, checked before it is saved. */
export function CombinationsTab({ table }: { table: TableDefinition }) {
  const query = useQuery({
    queryKey: ['combinations', table.id],
    queryFn: () => allRecords(table.id),
    staleTime: 0,
    gcTime: 0,
  });
  if (query.isError) return <p role="alert">{query.error.message}</p>;
  if (!query.data) return <Waiting />;
  return <CombinationGrid key={query.dataUpdatedAt} table={table} records={query.data} />;
}

function CombinationGrid({ table, records }: { table: TableDefinition; records: readonly RecordView[] }) {
  const { may } = useOffice();
  const say = useSay();
  const queries = useQueryClient();
  const levels = table.fields;
  const [made, setMade] = useState(0);
  const [rows, setRows] = useState<readonly Row[]>(() =>
    records.map((record) => {
      const words = levels.map((level) => String(record.values[level.id] ?? ''));
      return {
        key: String(record.id),
        record: { id: record.id, version: record.version, levels: words },
        levels: words,
      };
    }),
  );
  const [saving, setSaving] = useState(false);
  const blank: Row = { key: `new-${made}`, levels: levels.map(() => '') };
  const shown = may('build') ? [...rows, blank] : rows;
  const troubles = troublesOf(
    rows,
    levels.map((level) => level.label),
  );
  const changed = rows.filter((row) => !row.record || row.levels.join('\u0000') !== row.record.levels.join('\u0000'));
  const kept = new Set(rows.flatMap((row) => (row.record ? [row.record.id] : [])));
  const gone = records.filter((record) => !kept.has(record.id));

  const put = (at: number, level: number, pasted: readonly (readonly string[])[]): void => {
    const next = [...rows];
    pasted.forEach((words, n) => {
      const before = next[at + n] ?? { key: `new-${made + n}`, levels: levels.map(() => '') };
      const line = [...before.levels];
      words.slice(0, levels.length - level).forEach((word, column) => {
        line[level + column] = word.trim();
      });
      next[at + n] = { ...before, levels: line };
    });
    setMade(made + pasted.length);
    setRows(next.filter((row) => row.record || row.levels.some((word) => word !== '')));
  };
  const paste = (event: ClipboardEvent, at: number, level: number): void => {
    const text = event.clipboardData.getData('text');
    if (!/[\t\n]/.test(text)) return;
    event.preventDefault();
    put(
      at,
      level,
      text
        .replace(/\r\n?/g, '\n')
        .replace(/\n+$/, '')
        .split('\n')
        .map((line) => line.split('\t')),
    );
  };
  const onKeyDown = (event: KeyboardEvent, at: number, level: number): void => {
    const to = { ArrowDown: at + 1, Enter: at + 1, ArrowUp: at - 1 }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    document.getElementById(`level-${to}-${level}`)?.focus();
  };
  const save = async (): Promise<void> => {
    setSaving(true);
    try {
      const answer = await send<{ added: number; changed: number; archived: number }>(
        'POST',
        `/api/tables/${table.id}/combinations`,
        {
          add: changed.filter((row) => !row.record).map((row) => row.levels),
          change: changed.flatMap((row) =>
            row.record ? [{ id: row.record.id, version: row.record.version, levels: row.levels }] : [],
          ),
          archive: gone.map((record) => ({ id: record.id, version: record.version })),
        },
      );
      say(`Saved: ${answer.added} added, ${answer.changed} changed, ${answer.archived} archived.`);
      await queries.invalidateQueries({ queryKey: ['combinations', table.id] });
      void queries.invalidateQueries({ queryKey: ['records', table.id] });
    } catch (error) {
      say(error instanceof ServerProblem ? error.document.detail : (error as Error).message);
    } finally {
      setSaving(false);
    }
  };
  const open = changed.length + gone.length;
  return (
    <>
      <div className="grid-tools">
        <span className="faded" role="status">
          {rows.length.toLocaleString('en-GB')} {rows.length === 1 ? 'combination' : 'combinations'}
          {troubles.size > 0 ? `, ${troubles.size} to mend` : ''}
        </span>
        {may('build') && (
          <>
            <button
              type="button"
              className="button main"
              disabled={open === 0 || troubles.size > 0 || saving}
              onClick={() => void save()}
            >
              {saving
                ? 'Saving…'
                : open === 0
                  ? 'Nothing to save'
                  : `Save ${open} ${open === 1 ? 'change' : 'changes'}`}
            </button>
            <span className="faded">Type in the last row for a new one, or paste rows from a spreadsheet.</span>
          </>
        )}
      </div>
      <div className="list-card combinations">
        <table className="list">
          <thead>
            <tr>
              {levels.map((level) => (
                <th scope="col" key={level.id}>
                  {level.label}
                </th>
              ))}
              <th scope="col">
                <span className="visually-hidden">Act</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {shown.map((row, at) => (
              <tr key={row.key} className={troubles.has(row.key) ? 'wrong' : undefined}>
                {levels.map((level, column) => (
                  <td key={level.id}>
                    <input
                      id={`level-${at}-${column}`}
                      aria-label={`${level.label}, row ${at + 1}`}
                      aria-invalid={troubles.has(row.key) || undefined}
                      readOnly={!may('build')}
                      value={row.levels[column]}
                      onPaste={(event) => paste(event, at, column)}
                      onKeyDown={(event) => onKeyDown(event, at, column)}
                      onChange={(event) => put(at, column, [[event.target.value]])}
                    />
                  </td>
                ))}
                <td>
                  {row !== blank && may('build') && (
                    <button
                      type="button"
                      className="link"
                      aria-label={`Archive row ${at + 1}, ${row.levels.join(' › ')}`}
                      onClick={() => setRows(rows.filter((one) => one !== row))}
                    >
                      {row.record ? 'Archive' : 'Take out'}
                    </button>
                  )}{' '}
                  {troubles.has(row.key) && <span className="ruled-problem">{troubles.get(row.key)}</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** What keeps the combinations from being saved, by row: a level that is empty, a combination that occurs twice. */
function troublesOf(rows: readonly Row[], labels: readonly string[]): Map<string, string> {
  const troubles = new Map<string, string>();
  const seen = new Map<string, string>();
  for (const row of rows) {
    const empty = row.levels.findIndex((word) => word.trim() === '');
    const key = row.levels.map((word) => word.trim().normalize('NFC')).join('\u0000');
    if (empty >= 0) troubles.set(row.key, `${labels[empty]} is empty.`);
    else if (seen.has(key)) troubles.set(row.key, 'This combination occurs twice.');
    seen.set(key, row.key);
  }
  return troubles;
}
