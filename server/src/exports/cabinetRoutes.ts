import type { Readable } from 'node:stream';
import { routes } from '@fiche/core/api';
import { cabinetFileJsonSchema } from '@fiche/core/exports';
import { say } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { attachmentNamed } from '../formats/index.ts';
import { limit, notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { cabinetZip } from './cabinetFile.ts';
import { fillCabinet } from './fillCabinet.ts';

const FILE_MOST = 100 * 1024 * 1024;
/** Whole cabinets that one account may export or import within an hour. */
const CABINETS_AN_HOUR = 30;

/** Whole cabinets as files: out, and into an empty one. */
export function cabinetFileRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;

  route(app, services, routes.exportCabinet, async ({ params, definitions, caller, reply, request }) => {
    const cabinet = definitions.cabinets.get(params.cabinet ?? '');
    if (!cabinet) throw notFound(say('This cabinet'));
    await limit(request, `cabinet:${caller.login}`, CABINETS_AN_HOUR, 3_600);
    reply.type('application/zip').header('content-disposition', attachmentNamed(cabinet.label, 'zip'));
    return Buffer.from(await cabinetZip(databases.work.app, cabinet.id));
  });
  route(app, services, routes.importCabinet, async ({ params, query, body, caller, request }) => {
    const stream = body as Readable | undefined;
    if (typeof stream?.[Symbol.asyncIterator] !== 'function')
      throw new Refusal(422, say('Send the file itself, with content-type application/octet-stream.'));
    await limit(request, `cabinet:${caller.login}`, CABINETS_AN_HOUR, 3_600);
    const parts: Buffer[] = [];
    let size = 0;
    for await (const part of stream) {
      size += (part as Buffer).length;
      if (size > FILE_MOST)
        throw new Refusal(
          413,
          say('This file is too large: at most {fileMost} MB.', { fileMost: FILE_MOST / 1024 / 1024 }),
        );
      parts.push(part as Buffer);
    }
    const actor = { name: caller.login ?? '', through: { kind: 'import', label: query.file } } as const;
    return fillCabinet(databases.work, params.cabinet ?? '', actor, Buffer.concat(parts));
  });
  route(app, services, routes.cabinetFileSchema, async () => cabinetFileJsonSchema());
}
