import { Readable } from 'node:stream';
import { routes } from '@fiche/core/api';
import { cabinetFileJsonSchema } from '@fiche/core/exports';
import { rightTo } from '@fiche/core/rights';
import type { FastifyInstance } from 'fastify';
import { callersLimit, route } from '../access/index.ts';
import { limit, notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { attachmentNamed } from './attachmentNamed.ts';
import { cabinetZip } from './cabinetFile.ts';
import { fillCabinet } from './fillCabinet.ts';
import { tableCsv } from './table.ts';

const FILE_MOST = 100 * 1024 * 1024;
/** Whole cabinets that one account may export or import within an hour. */
const CABINETS_AN_HOUR = 30;

export function exportRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;

  route(app, services, routes.exportTable, async ({ params, query, definitions, reply }) => {
    const { tables } = definitions;
    const table = tables.get(params.table ?? '');
    if (!table) throw notFound('This table');
    reply.type('text/csv; charset=utf-8').header('content-disposition', attachmentNamed(table.label, 'csv'));
    const limit = callersLimit(definitions, table, 'r', ({ role }) => rightTo(role, 'export', table));
    return Readable.from(tableCsv(databases.work.app, tables, table, query, limit));
  });
  route(app, services, routes.exportCabinet, async ({ params, definitions, caller, reply, request }) => {
    const cabinet = definitions.cabinets.get(params.cabinet ?? '');
    if (!cabinet) throw notFound('This cabinet');
    await limit(request, `cabinet:${caller.login}`, CABINETS_AN_HOUR, 3_600);
    reply.type('application/zip').header('content-disposition', attachmentNamed(cabinet.label, 'zip'));
    return Buffer.from(await cabinetZip(databases.work.app, cabinet.id));
  });
  route(app, services, routes.importCabinet, async ({ params, query, body, caller, request }) => {
    const stream = body as Readable | undefined;
    if (typeof stream?.[Symbol.asyncIterator] !== 'function')
      throw new Refusal(422, 'Send the file itself, with content-type application/octet-stream.');
    await limit(request, `cabinet:${caller.login}`, CABINETS_AN_HOUR, 3_600);
    const parts: Buffer[] = [];
    let size = 0;
    for await (const part of stream) {
      size += (part as Buffer).length;
      if (size > FILE_MOST) throw new Refusal(413, `This file is too large: at most ${FILE_MOST / 1024 / 1024} MB.`);
      parts.push(part as Buffer);
    }
    const actor = { name: caller.login ?? '', through: { kind: 'import', label: query.file } } as const;
    return fillCabinet(databases.work, params.cabinet ?? '', actor, Buffer.concat(parts));
  });
  route(app, services, routes.cabinetFileSchema, async () => cabinetFileJsonSchema());
}
