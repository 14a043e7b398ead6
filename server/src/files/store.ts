import { createHash } from 'node:crypto';
import { type FileToken, fileName, filesOf, holdsFiles, type Values } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { FieldId, TableDefinition, TableId } from '@fiche/core/tables';
import { fileTypeFromBuffer } from 'file-type';
import sharp from 'sharp';
import type { Database, Transaction } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { requireClean, type Scanner } from '../scanning/index.ts';

/** Bytes of one part. */
const PART = 512 * 1024;
/** What is looked at to find the kind. */
const HEAD = 4_100;
const MB = 1024 * 1024;
/** The longer side of a thumbnail, in px; and the most pixels of a picture that is made small. */
const THUMBNAIL = 320;
const MOST_PIXELS = 80_000_000;
/** A file that no save has claimed is forgotten after so many hours; one that a public page received much sooner. */
const UNCLAIMED_HOURS = 24;
const UNCLAIMED_PAGE_HOURS = 1;

/** A file that was received. */
export interface StoredFile extends FileToken {
  readonly size: number;
  readonly kind: string;
}

/** Where contents are kept: in PostgreSQL; an object store can take its place. */
interface Receiving {
  readonly table: TableId;
  readonly name: string;
  readonly by: string;
  /** How large it may be, in MB. */
  readonly largest: number;
  /** Looks through the file before it is taken; files of the office’s own people are not looked through. */
  readonly scanner?: Scanner;
  /** Why a kind is not taken here; undefined when it is. */
  refuseKind(kind: string): string | undefined;
}

/**
 * Receives a file as it streams in: kept part by part, never whole in memory, stored once by what is in it. Its kind is
 * found from its content. Throws 422 for an empty file, a kind that is not taken or one in which the scanner finds something, 413 as soon as it grows too large;
 * nothing of it is kept then.
 */
export async function receiveFile(
  database: Database,
  stream: AsyncIterable<Buffer>,
  { table, name, by, largest, scanner, refuseKind }: Receiving,
): Promise<StoredFile> {
  const [{ id: content }] = (await database('fiche.content').insert({}).returning('id')) as [{ id: number }];
  try {
    const hash = createHash('sha256');
    let [size, n] = [0, 0];
    let kind: string | undefined;
    let waiting: Buffer[] = [];
    let held = 0;
    const keep = async (): Promise<void> => {
      const bytes = Buffer.concat(waiting);
      [waiting, held] = [[], 0];
      kind ??= await kindOf(bytes);
      const refused = refuseKind(kind);
      if (refused) throw new Refusal(422, `${name}: ${refused}`);
      await database('fiche.content_part').insert({ content, n: n++, bytes });
    };
    for await (const piece of stream) {
      size += piece.length;
      if (size > largest * MB)
        throw new Refusal(413, say('{file} is larger than the {largest} MB that fit here.', { file: name, largest }));
      hash.update(piece);
      waiting.push(piece);
      held += piece.length;
      if (held >= PART) await keep();
    }
    if (size === 0)
      throw new Refusal(422, say('{file} is empty: there is nothing in it. Choose another file.', { file: name }));
    if (held > 0) await keep();
    if (scanner) await requireClean(scanner, name, bytesOf(database, content));
    const sha256 = hash.digest('hex');
    const stored = await settleContent(database, content, sha256, size, kind ?? '');
    const plain = fileName(name);
    const [{ id }] = (await database('fiche.file')
      .insert({ content: stored, table_id: table, name: plain, sent_by: by, sha256 })
      .returning('id')) as [{ id: string }];
    return { id, name: plain, size, kind: kind ?? '' };
  } catch (error) {
    await forgetContent(database, content);
    throw error;
  }
}

/** Forgets a content that did not arrive whole, or whose bytes are there already. */
const forgetContent = (database: Database, content: number): Promise<unknown> =>
  database.raw('SELECT fiche.forget_content(?)', [content]);

/** Gives a content its hash, or finds the one that has the same bytes already. */
async function settleContent(
  database: Database,
  content: number,
  sha256: string,
  size: number,
  kind: string,
): Promise<number> {
  const known = async (): Promise<number | undefined> =>
    (await database('fiche.content').where({ sha256 }).first('id'))?.id as number | undefined;
  const before = await known();
  if (before === undefined)
    try {
      await database('fiche.content').where({ id: content }).update({ sha256, size, kind });
      return content;
    } catch (error) {
      // Somebody else has sent the same just now.
      if ((error as { code?: string }).code !== '23505') throw error;
    }
  await forgetContent(database, content);
  const same = before ?? (await known());
  if (same === undefined) throw new Error('A content vanished while it was stored again');
  return same;
}

/** The kind of a content by its first bytes; text where it reads as such. */
async function kindOf(bytes: Buffer): Promise<string> {
  const found = await fileTypeFromBuffer(bytes.subarray(0, HEAD));
  if (found) return found.mime;
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(0, HEAD), { stream: true });
    return text.includes('\0') ? 'application/octet-stream' : 'text/plain';
  } catch {
    return 'application/octet-stream';
  }
}

interface Row extends StoredFile {
  readonly content: number;
  /** Who has sent it, while no save has named it. */
  readonly unclaimedOf: string | null;
}

/** A file of a table, or undefined. */
export async function findFile(database: Database, table: TableId, id: string): Promise<Row | undefined> {
  if (!/^[0-9a-f-]{36}$/.test(id)) return undefined;
  const { rows } = await database.raw<{ rows: Row[] }>(
    `SELECT f.id, f.name, c.size, c.kind, c.id AS content, CASE WHEN f.claimed_at IS NULL THEN f.sent_by END AS "unclaimedOf" FROM fiche.file f JOIN fiche.content c ON c.id = f.content
     WHERE f.id = ? AND f.table_id = ?`,
    [id, table],
  );
  return rows[0];
}

/** The bytes of a content, part by part. */
export async function* bytesOf(database: Database, content: number): AsyncGenerator<Buffer> {
  for (let n = 0; ; n++) {
    const part = await database('fiche.content_part').where({ content, n }).first('bytes');
    if (!part) return;
    yield part.bytes as Buffer;
  }
}

/** A small picture of a picture, made when it is first asked for; undefined where it cannot be made small. */
export async function thumbnailOf(database: Database, content: number): Promise<Buffer | undefined> {
  const row = await database('fiche.content').where({ id: content }).first('thumbnail', 'size');
  if (row?.thumbnail) return row.thumbnail as Buffer;
  const parts: Buffer[] = [];
  for await (const part of bytesOf(database, content)) parts.push(part);
  try {
    const small = await sharp(Buffer.concat(parts), { limitInputPixels: MOST_PIXELS })
      .rotate()
      .resize(THUMBNAIL, THUMBNAIL, { fit: 'inside', withoutEnlargement: true })
      .webp({ quality: 74 })
      .toBuffer();
    await database('fiche.content').where({ id: content }).update({ thumbnail: small });
    return small;
  } catch {
    return undefined;
  }
}

/** The files that values name, by the fields of their table that hold attachments. */
export const namedFiles = (table: TableDefinition, values: Values): { field: FieldId; file: FileToken }[] =>
  table.fields
    .filter((field) => holdsFiles(field))
    .flatMap((field) => filesOf(values[field.id]).map((file) => ({ field: field.id, file })));

/**
 * Which of some files may not be named by a save: those that are not there, have another name, are of another table, or
 * were sent by somebody else and not saved yet.
 */
export async function strangeFiles(
  database: Database | Transaction,
  table: TableId,
  by: string,
  files: readonly FileToken[],
): Promise<Set<string>> {
  if (files.length === 0) return new Set();
  const { rows } = await database.raw<{ rows: { id: string; name: string }[] }>(
    `SELECT id, name FROM fiche.file WHERE id = ANY(?::uuid[]) AND table_id = ? AND (sent_by = ? OR (claimed_at IS NOT NULL AND ? NOT LIKE 'page:%'))`,
    [`{${files.map((file) => file.id).join(',')}}`, table, by, by],
  );
  const known = new Map(rows.map((row) => [row.id, row.name]));
  return new Set(files.filter((file) => known.get(file.id) !== file.name).map((file) => file.id));
}

/** Keeps files for good: in the transaction of the save that names them. */
export async function claimFiles(transaction: Transaction, files: readonly FileToken[]): Promise<void> {
  if (files.length === 0) return;
  await transaction.raw('UPDATE fiche.file SET claimed_at = now() WHERE id = ANY(?::uuid[]) AND claimed_at IS NULL', [
    `{${files.map((file) => file.id).join(',')}}`,
  ]);
}

/** Forgets files of entries that were never saved, contents that stopped on their way, and those that no file has. As the owner. */
export async function forgetUnclaimed(database: Database, hours = UNCLAIMED_HOURS): Promise<void> {
  await database.raw(
    `DELETE FROM fiche.file f WHERE claimed_at IS NULL
       AND sent_at < now() - make_interval(hours => least(?::int, CASE WHEN sent_by LIKE 'page:%' THEN ${UNCLAIMED_PAGE_HOURS} ELSE ?::int END))
       AND NOT EXISTS (SELECT FROM fiche.held_answer h WHERE h.decided_at IS NULL AND f.sent_by LIKE 'page:%' AND position(f.id::text IN h.body::text) > 0)`,
    [hours, hours],
  );
  await database.raw(
    `DELETE FROM fiche.content c WHERE begun_at < now() - make_interval(hours => ?::int)
       AND NOT EXISTS (SELECT 1 FROM fiche.file f WHERE f.content = c.id)`,
    [hours],
  );
}
