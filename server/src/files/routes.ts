import { Readable } from 'node:stream';
import { routes } from '@fiche/core/api';
import { type FileToken, holdsFiles, PICTURES, writeFileToken } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { quoted, recordsOf } from '@fiche/core/queries';
import type { TableId } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { type Caller, route } from '../access/index.ts';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound } from '../http/index.ts';
import type { Services } from '../services.ts';
import { bytesOf, findFile, thumbnailOf } from './store.ts';

/** Kinds that a browser may show by itself; everything else is only ever taken out. */
const SHOWN: readonly string[] = [...PICTURES, 'application/pdf'];
/** What a shown file may do: nothing. */
const POLICY = "default-src 'none'; img-src 'self'; style-src 'unsafe-inline'; sandbox";

/** Whether the caller sees a record with a field that names a file, or has just sent it. */
async function seesFile(
  database: Database,
  { tables, seen }: Definitions,
  { login }: Caller,
  tableId: TableId,
  file: FileToken & { readonly unclaimedOf: string | null },
): Promise<boolean> {
  if (tables === seen?.whole.tables) return true;
  if (file.unclaimedOf !== null) return file.unclaimedOf === login;
  const holding = (tables.get(tableId)?.fields ?? []).filter((field) => holdsFiles(field));
  if (holding.length === 0) return false;
  const names = holding.map((field) => `? = ANY(r.${quoted(field.id)})`).join(' OR ');
  const { rows } = await database.raw<{ rows: unknown[] }>(
    `SELECT FROM ${recordsOf(tables, tableId)} r WHERE ${names} LIMIT 1`,
    holding.map(() => writeFileToken(file)),
  );
  return rows.length > 0;
}

export function fileRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;

  route(app, services, routes.readFile, async ({ params, reply, caller, definitions }) => {
    const file = await findFile(database, params.table ?? '', params.file ?? '');
    if (!file || !(await seesFile(database, definitions, caller, params.table ?? '', file)))
      throw notFound(say('This file'));
    const shown = SHOWN.includes(file.kind);
    const plain = file.name.replace(/[^\w .-]/g, '_');
    reply
      .type(shown ? file.kind : 'application/octet-stream')
      .header('content-length', file.size)
      .header('x-content-type-options', 'nosniff')
      .header(
        'content-disposition',
        `${shown ? 'inline' : 'attachment'}; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(file.name)}`,
      )
      .header('cache-control', 'private, max-age=86400, immutable');
    // A sandbox keeps the browser’s own viewer of PDFs from opening.
    if (file.kind !== 'application/pdf') reply.header('content-security-policy', POLICY);
    return Readable.from(bytesOf(database, file.content));
  });

  route(app, services, routes.readThumbnail, async ({ params, reply, caller, definitions }) => {
    const file = await findFile(database, params.table ?? '', params.file ?? '');
    const seen = file && (await seesFile(database, definitions, caller, params.table ?? '', file));
    const small = seen && PICTURES.includes(file.kind) ? await thumbnailOf(database, file.content) : undefined;
    if (!small) throw notFound(say('A small picture of this file'));
    reply
      .type('image/webp')
      .header('x-content-type-options', 'nosniff')
      .header('content-security-policy', POLICY)
      .header('cache-control', 'private, max-age=86400, immutable');
    return small;
  });
}
