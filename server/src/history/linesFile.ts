import type { LineView } from '@fiche/core/api';
import { civilOf } from '@fiche/core/office';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { csvLines } from '../formats/index.ts';
import type { LedgerQuery } from './ledgerWhere.ts';
import { ledgerLines } from './store.ts';

/** Lines are read so many at a time. */
const STEP = 500;
const HEAD = 'When,Account,Through,Kind,What,Record,Title,Field,Before,After,Reasons,Line,Transaction'.split(',');
const GUARD = HEAD.map(() => true);

/**
 * The lines of a cabinet's ledger that a filter finds, newest first: as CSV with a row for each field that changed, or as JSON
 * Lines as the interface gives them. What is hidden from the caller is not among them.
 */
export async function* linesFile(
  app: Database,
  definitions: Definitions,
  cabinet: string,
  { as, ...filter }: Omit<LedgerQuery, 'before' | 'limit'> & { readonly as: 'csv' | 'jsonl' },
): AsyncGenerator<string> {
  if (as === 'csv') yield `\ufeff${csvLines([HEAD], GUARD)}`;
  for (let before: number | undefined; ; ) {
    const page = await ledgerLines(app, definitions, cabinet, { ...filter, before, limit: STEP });
    if (page.lines.length > 0)
      yield as === 'csv'
        ? csvLines(page.lines.flatMap(rowsOf), GUARD)
        : page.lines.map((line) => `${JSON.stringify(line)}\n`).join('');
    if (page.before === null) return;
    before = page.before;
  }
}

function rowsOf(line: LineView): string[][] {
  const { at, account, through, kind, what, record, title, changes, reasons, id, transaction } = line;
  const own = [civilOf(new Date(at)).replace('T', ' '), account, through, kind, what, record, title];
  const end = [reasons.join(' '), String(id), String(transaction)];
  return changes.length === 0
    ? [[...own, '', '', '', ...end]]
    : changes.map((one) => [...own, one.label, one.before, one.after, ...end]);
}
