import { createHash } from 'node:crypto';
import { say } from '@fiche/core/languages';
import type { Transaction } from '../database/index.ts';
import { type Found, streamOf } from './found.ts';

interface Part {
  readonly id: string;
  readonly said: string | null;
  readonly bytes: Buffer | null;
}

/** Files whose bytes are not the ones whose SHA-256 was captured when a save named them. */
export async function fileMisfits(transaction: Transaction): Promise<Found[]> {
  const found: Found[] = [];
  const parts = streamOf<Part>(
    transaction,
    'parts',
    `SELECT f.id::text AS id, f.sha256 AS said, p.bytes FROM fiche.file f LEFT JOIN fiche.content_part p ON p.content = f.content
     WHERE f.claimed_at IS NOT NULL ORDER BY f.id, p.n`,
    [],
    20,
  );
  let file: Part | undefined;
  let hash = createHash('sha256');
  const close = (): void => {
    if (file && hash.digest('hex') !== file.said && found.length < 5)
      found.push({
        what: say('its bytes are not the ones that were sent'),
        line: null,
        seal: null,
        place: 'fiche.file',
        record: file.id,
      });
  };
  for await (const part of parts) {
    if (part.id !== file?.id) {
      close();
      [file, hash] = [part, createHash('sha256')];
    }
    if (part.bytes) hash.update(part.bytes);
  }
  close();
  return found;
}
