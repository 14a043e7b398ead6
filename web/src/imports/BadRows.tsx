import type { BadRowsView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useInfiniteQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { type KeyboardEvent, type RefObject, useEffect, useId, useState } from 'react';
import { send } from '../client/index.ts';
import { FieldInput, pageCss, textCss, useNotify } from '../parts/index.ts';
import verdictCss from './verdict.module.css';

type BadRow = BadRowsView['rows'][number];
type Problem = BadRow['problems'][number];

interface BadRowsProps {
  /** Address of the import. */
  readonly base: string;
  /** The check that found the rows: after another one they are asked for anew. */
  readonly check: number;
  readonly total: number;
  /** Hears how many rows were corrected so that nothing is wrong with them by themselves. */
  onCorrected(count: number): void;
  /** The corrections that are being sent, one after the other: a check waits for them. */
  readonly sending: RefObject<Promise<unknown>>;
  /** Hears when the first rows are shown. */
  onLoaded(): void;
}

/**
 * The rows of a file that cannot be imported, to be corrected in place: each row is checked by the server as soon as one
 * of its cells is left. The columns in which something is wrong come first.
 */
export function BadRows({ base, check, total, sending, onCorrected, onLoaded }: BadRowsProps) {
  const {
    data: found,
    isFetchingNextPage,
    fetchNextPage,
  } = useInfiniteQuery({
    queryKey: ['bad-rows', base, check],
    queryFn: ({ pageParam }) => send<BadRowsView>('GET', `${base}/bad-rows?after=${pageParam}`),
    initialPageParam: 0,
    getNextPageParam: (last) => last.rows.at(-1)?.number,
  });
  const loaded = found !== undefined;
  useEffect(() => {
    if (loaded) onLoaded();
  }, [loaded, onLoaded]);
  const [corrected, setCorrected] = useState<ReadonlyMap<number, readonly Problem[]>>(new Map());
  const rows = found?.pages.flatMap((page) => page.rows) ?? [];
  const names = found?.pages[0]?.names ?? [];
  const wrong = new Set(rows.flatMap((row) => row.problems.map((problem) => problem.column)));
  const columns = names
    .map((name, at) => ({ name, at }))
    .filter(({ name }) => name !== '')
    .sort((a, b) => Number(wrong.has(b.name)) - Number(wrong.has(a.name)) || a.at - b.at);
  const count = [...corrected.values()].filter((problems) => problems.length === 0).length;
  useEffect(() => onCorrected(count), [count, onCorrected]);
  return (
    <>
      <div className={verdictCss.badRows} role="region" aria-label={say('Rows to correct')} tabIndex={-1}>
        <Table size="small" stickyHeader>
          <TableHead>
            <TableRow>
              <TableCell>{say('Row')}</TableCell>
              <TableCell>{say('What is wrong')}</TableCell>
              {columns.map(({ name, at }) => (
                <TableCell key={at}>{name}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((row) => (
              <EditedRow
                key={row.number}
                row={row}
                columns={columns}
                problems={corrected.get(row.number) ?? row.problems}
                corrected={corrected.get(row.number)?.length === 0}
                base={base}
                sending={sending}
                onChecked={(problems) => setCorrected((before) => new Map(before).set(row.number, problems))}
              />
            ))}
          </TableBody>
        </Table>
      </div>
      {rows.length < total && (
        <p className={textCss.faded}>
          {say('The first {count} of {total} rows to correct.', {
            count: formatCount(rows.length),
            total: formatCount(total),
          })}{' '}
          <Button variant="text" disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            {say('Show more')}
          </Button>
        </p>
      )}
    </>
  );
}

interface EditedRowProps {
  readonly row: BadRow;
  readonly columns: readonly { readonly name: string; readonly at: number }[];
  readonly problems: readonly Problem[];
  readonly corrected: boolean;
  readonly base: string;
  readonly sending: RefObject<Promise<unknown>>;
  onChecked(problems: readonly Problem[]): void;
}

function EditedRow({ row, columns, problems, corrected, base, sending, onChecked }: EditedRowProps) {
  const [cells, setCells] = useState<readonly string[]>(row.cells);
  const [sent, setSent] = useState<readonly string[]>(row.cells);
  const notify = useNotify();
  const id = useId();
  const wrong = new Set(problems.map((problem) => problem.column));
  const leave = (): void => {
    if (cells.every((cell, at) => cell === sent[at])) return;
    setSent(cells);
    sending.current = sending.current.then(correct);
  };
  const correct = async (): Promise<void> => {
    try {
      const { rows } = await send<{ rows: { problems: Problem[] }[] }>('POST', `${base}/corrections`, {
        rows: [{ number: row.number, cells }],
      });
      onChecked(rows[0]?.problems ?? []);
    } catch (error) {
      setSent(sent);
      notify((error as Error).message);
    }
  };
  return (
    <TableRow>
      <TableCell data-label={`${say('Row')} `} className={clsx(textCss.mono, textCss.faded)}>
        {formatCount(row.number)}
      </TableCell>
      <TableCell id={id} className={verdictCss.problems}>
        {corrected ? (
          <span className={pageCss.verified}>{say('✓ Corrected')}</span>
        ) : (
          problems.map((problem) => (
            <div key={`${problem.column} ${problem.message}`}>
              <strong>{problem.column}</strong>: {problem.message}
            </div>
          ))
        )}
      </TableCell>
      {columns.map(({ name, at }) => (
        <TableCell key={at} data-label={name} className={wrong.has(name) ? verdictCss.wrong : undefined}>
          <FieldInput
            aria-label={say('{name}, row {number}', { name, number: row.number })}
            aria-invalid={wrong.has(name) || undefined}
            aria-describedby={wrong.has(name) ? id : undefined}
            data-column={at}
            value={cells[at] ?? ''}
            onChange={(event) => setCells(withCell(cells, at, event.target.value))}
            onKeyDown={moveInColumn}
            onBlur={leave}
          />
        </TableCell>
      ))}
    </TableRow>
  );
}

/** The cells with one of them changed; a row that is shorter than its column is filled up with blanks. */
const withCell = (cells: readonly string[], at: number, text: string): readonly string[] =>
  Array.from({ length: Math.max(cells.length, at + 1) }, (_, n) => (n === at ? text : (cells[n] ?? '')));

/** Enter and the arrows go to the same column of the next or the previous row. */
function moveInColumn(event: KeyboardEvent<HTMLInputElement>): void {
  const step = { Enter: 1, ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (step === undefined) return;
  event.preventDefault();
  const row = event.currentTarget.closest('tr');
  const other = step > 0 ? row?.nextElementSibling : row?.previousElementSibling;
  const next = other?.querySelector<HTMLInputElement>(`input[data-column="${event.currentTarget.dataset.column}"]`);
  if (next) {
    next.focus();
    next.select();
  } else event.currentTarget.blur();
}
