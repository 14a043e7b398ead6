import type { Readable } from 'node:stream';
import { IMPORT_MOST_BYTES, type ImportView } from '@fiche/core/api';
import type { ImportCounts, ImportPlan } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { asActor, type Database, type Databases } from '../database/index.ts';
import { notFound, Refusal } from '../http/index.ts';

/** Bytes kept in one row of the database. */
const PART = 1024 * 1024;

export interface ImportRow {
  readonly id: number;
  readonly cabinet: string;
  readonly account: string;
  readonly file: string;
  readonly size: number;
  readonly at: string;
  readonly state: ImportView['state'];
  readonly table_id: string | null;
  readonly plan: ImportPlan | null;
  readonly counts: ImportCounts | null;
}

export const viewOf = (row: ImportRow): ImportView => ({
  id: row.id,
  file: row.file,
  size: row.size,
  account: row.account,
  at: row.at,
  state: row.state,
  table: row.table_id,
  counts: row.counts,
});

const COLUMNS = 'id, cabinet, account, file, size, at, state, table_id, plan, counts';

/**
 * Takes a file in as it arrives, part by part, so that no server holds more than one part and any server can go on with
 * it. A file that is too large or cut off leaves nothing.
 */
export async function receiveFile(
  { owner }: Databases,
  cabinet: string,
  account: string,
  file: string,
  stream: Readable,
  expected: number | undefined,
): Promise<ImportView> {
  const tooLarge = new Refusal(
    413,
    say('This file is too large: at most {importMostBytes} MB can be imported at once. Divide it.', {
      importMostBytes: IMPORT_MOST_BYTES / 1024 / 1024,
    }),
  );
  if (expected !== undefined && expected > IMPORT_MOST_BYTES) throw tooLarge;
  const actor = { name: account, through: { kind: 'import', label: file } } as const;
  const { rows } = await asActor(owner, actor, (transaction) =>
    transaction.raw<{ rows: ImportRow[] }>(
      `INSERT INTO fiche.import (cabinet, account, file, size, state) VALUES (?, ?, ?, 0, 'received') RETURNING ${COLUMNS}`,
      [cabinet, account, file],
    ),
  );
  const [made] = rows;
  if (!made) throw new Error('The import was not noted');
  try {
    const size = await keepParts(owner, made.id, stream, tooLarge);
    if (expected !== undefined && size !== expected)
      throw new Refusal(400, say('The file arrived cut off. Send it again.'));
    await asActor(owner, actor, (transaction) => transaction('fiche.import').where({ id: made.id }).update({ size }));
    return viewOf({ ...made, size });
  } catch (error) {
    await asActor(owner, actor, (transaction) => transaction('fiche.import').where({ id: made.id }).delete());
    throw error instanceof Refusal ? error : new Refusal(400, say('The file arrived cut off. Send it again.'));
  }
}

async function keepParts(owner: Database, id: number, stream: Readable, tooLarge: Refusal): Promise<number> {
  let [size, number] = [0, 0];
  let waiting: Buffer[] = [];
  let held = 0;
  const keep = async (): Promise<void> => {
    if (held === 0) return;
    await owner('fiche.import_part').insert({ import: id, number: number++, content: Buffer.concat(waiting) });
    waiting = [];
    held = 0;
  };
  for await (const chunk of stream) {
    const bytes = chunk as Buffer;
    size += bytes.length;
    if (size > IMPORT_MOST_BYTES) throw tooLarge;
    waiting.push(bytes);
    held += bytes.length;
    if (held >= PART) await keep();
  }
  await keep();
  return size;
}

export async function findImport(database: Database, cabinet: string, id: number): Promise<ImportRow> {
  const { rows } = Number.isSafeInteger(id)
    ? await database.raw<{ rows: ImportRow[] }>(`SELECT ${COLUMNS} FROM fiche.import WHERE id = ? AND cabinet = ?`, [
        id,
        cabinet,
      ])
    : { rows: [] };
  const [row] = rows;
  if (!row) throw notFound(say('This import'));
  return row;
}

export async function listImports(database: Database, cabinet: string): Promise<ImportView[]> {
  const { rows } = await database.raw<{ rows: ImportRow[] }>(
    `SELECT ${COLUMNS} FROM fiche.import WHERE cabinet = ? ORDER BY id DESC LIMIT 30`,
    [cabinet],
  );
  return rows.map(viewOf);
}

/** The bytes of a file, part by part. */
export async function* partsOf(database: Database, id: number): AsyncGenerator<Buffer> {
  for (let number = 0; ; number++) {
    const { rows } = await database.raw<{ rows: { content: Buffer }[] }>(
      'SELECT content FROM fiche.import_part WHERE import = ? AND number = ?',
      [id, number],
    );
    if (!rows[0]) return;
    yield rows[0].content;
  }
}

/** Files and their bad rows are kept a week, so that they can be corrected; then only the line in the ledger stays. */
export async function forgetParts(owner: Database): Promise<void> {
  for (const table of ['import_part', 'import_bad_row', 'import_correction'])
    await owner.raw(
      `DELETE FROM fiche.${table} WHERE import IN (SELECT id FROM fiche.import WHERE at < now() - interval '7 days')`,
    );
}
