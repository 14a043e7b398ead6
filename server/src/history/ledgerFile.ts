import { type ChainedLine, type HashedLine, LEDGER_FORMAT } from '@fiche/core/history';
import type { TableId } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { streamOf } from './found.ts';
import { LINE } from './verify.ts';
import { readSeals } from './verifySeals.ts';

/** Text is handed on in pieces of about this many characters. */
const PIECE = 65_536;

/**
 * The whole ledger as one moment shows it, as JSON Lines (docs/LEDGER.md): what it is, then the lines in the order in which seals
 * add them up, each seal after its last line. Lines of the records of `tables` stand whole; of all others only the hash is told. As the owner.
 */
export async function* ledgerFile(
  owner: Database,
  { cabinet, tables }: { readonly cabinet: string; readonly tables: readonly TableId[] },
  now = new Date(),
): AsyncGenerator<string> {
  const transaction = await owner.transaction({ isolationLevel: 'repeatable read', readOnly: true });
  try {
    await transaction.raw(
      "SET LOCAL statement_timeout = 0; SET LOCAL idle_in_transaction_session_timeout = '5min'; SET LOCAL TimeZone = 'UTC'; SET LOCAL work_mem = '64MB'",
    );
    const told = new Set(tables.map((id) => `data.${id}`));
    const seals = await readSeals(transaction);
    let piece = `${JSON.stringify({ format: LEDGER_FORMAT, cabinet, at: now.toISOString() })}\n`;
    const lines = streamOf<ChainedLine>(
      transaction,
      'exported',
      `SELECT ${LINE} FROM ledger.line l ORDER BY l.transaction, l.id`,
    );
    for await (const line of lines) {
      for (; seals[0] && BigInt(line.transaction) >= BigInt(seals[0].toTransaction); seals.shift())
        piece += `${JSON.stringify({ seal: seals[0] })}\n`;
      piece += `${JSON.stringify(told.has(line.place) ? { line } : { hashed: hashedOf(line) })}\n`;
      if (piece.length < PIECE) continue;
      yield piece;
      piece = '';
    }
    for (const seal of seals) piece += `${JSON.stringify({ seal })}\n`;
    yield piece;
  } finally {
    await transaction.rollback();
  }
}

const hashedOf = ({ id, transaction, hash }: ChainedLine): HashedLine => ({ id, transaction, hash });
