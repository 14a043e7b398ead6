import { Readable } from 'node:stream';
import { routes } from '@fiche/core/api';
import { PICTURES } from '@fiche/core/fields';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { notFound } from '../http/index.ts';
import type { Services } from '../services.ts';
import { bytesOf, findFile, thumbnailOf } from './store.ts';

/** Kinds that a browser may show by itself; everything else is only ever taken out. */
const SHOWN: readonly string[] = [...PICTURES, 'application/pdf'];
/** What a shown file may do: nothing. */
const POLICY = "default-src 'none'; img-src 'self'; style-src 'unsafe-inline'; sandbox";

export function fileRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;

  route(app, services, routes.readFile, async ({ params, reply }) => {
    const file = await findFile(database, params.table ?? '', params.file ?? '');
    if (!file) throw notFound('This file');
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

  route(app, services, routes.readThumbnail, async ({ params, reply }) => {
    const file = await findFile(database, params.table ?? '', params.file ?? '');
    const small = file && PICTURES.includes(file.kind) ? await thumbnailOf(database, file.content) : undefined;
    if (!small) throw notFound('A small picture of this file');
    reply
      .type('image/webp')
      .header('x-content-type-options', 'nosniff')
      .header('content-security-policy', POLICY)
      .header('cache-control', 'private, max-age=86400, immutable');
    return small;
  });
}
