import { Readable } from 'node:stream';
import { type ExportOrder, type ExportState, routes } from '@fiche/core/api';
import { cabinetFileJsonSchema, type ExportSettings } from '@fiche/core/exports';
import { plainListing } from '@fiche/core/views';
import type { FastifyInstance } from 'fastify';
import { type Call, route } from '../access/index.ts';
import { attachmentNamed, FORMATS } from '../formats/index.ts';
import { limit, notFound, Refusal } from '../http/index.ts';
import { type PrintedSelection, printSelection, requirePrint } from '../print/index.ts';
import type { Services } from '../services.ts';
import { type Asked, countListed, exportReader, requireReadable, tableOf, tablesAt, viewOf } from '../views/index.ts';
import { cabinetZip } from './cabinetFile.ts';
import { calendarRoutes } from './calendars.ts';
import { fillCabinet } from './fillCabinet.ts';
import { addExport, beginExport, cancelExport, findExport, reportExport, type StoredExport } from './orders.ts';
import type { ExportQuery } from './pages.ts';
import { prepareFile, type RecordsFile, writeFile } from './recordsFile.ts';

const FILE_MOST = 100 * 1024 * 1024;
/** Whole cabinets that one account may export or import within an hour. */
const CABINETS_AN_HOUR = 30;

export function exportRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;

  calendarRoutes(app, services);

  /** Finds what a caller wants as a file, by the tables of today or of a moment. Throws 422 where it cannot be written so. */
  const fileOf = async (
    asked: Asked,
    { format, links, begins, ends, ...query }: ExportQuery & ExportSettings,
    title: string,
    asOf: string | undefined,
  ): Promise<RecordsFile> => {
    const tables = await tablesAt(asked, services, asOf);
    const settings = { format, links, begins, ends };
    const file = { table: tableOf(asked), tables, query, settings, title, publicUrl: services.mail.publicUrl };
    prepareFile(file);
    return file;
  };

  /** Answers with a file that is written while it is read. */
  const send = (
    call: Asked & Pick<Call<unknown, unknown>, 'reply'>,
    file: RecordsFile,
    asOf: string | undefined,
    onPage?: (done: number) => Promise<void>,
  ): Readable => {
    const { type, ending } = FORMATS[file.settings.format];
    const name =
      asOf === undefined ? file.title : `${file.title} as of ${asOf.slice(0, 16).replace('T', ' ').replace(':', '.')}`;
    call.reply.type(type).header('content-disposition', attachmentNamed(name, ending));
    return Readable.from(writeFile(databases.exports, file, exportReader(call, file.tables), onPage), {
      objectMode: false,
    });
  };

  route(app, services, routes.exportTable, async (call) => {
    const table = tableOf(call);
    const { asOf, ...query } = call.query;
    const listing = plainListing(table);
    return send(call, await fileOf(call, { ...query, listing, by: 'up' }, table.label, asOf), asOf);
  });
  route(app, services, routes.exportView, async (call) => {
    const { asked, asOf, ...query } = call.query;
    const { listing, label } = await viewOf(call, services, asked);
    return send(call, await fileOf(call, { ...query, listing }, label, asOf), asOf);
  });
  route(app, services, routes.exportRows, async (call) => {
    const { asOf, ...query } = call.query;
    requireReadable(call, query.listing);
    return send(call, await fileOf(call, query, tableOf(call).label, asOf), asOf);
  });

  const ordered = (call: Asked, { name, asOf, print: _print, ...query }: ExportOrder): Promise<RecordsFile> => {
    requireReadable(call, query.listing);
    return fileOf(call, query, name ?? tableOf(call).label, asOf);
  };
  const stateOf = ({ what: _what, ...state }: StoredExport): ExportState => state;
  /** An export of the caller. Throws 404. */
  const known = async (call: Asked): Promise<StoredExport> => {
    const wanted = { table: tableOf(call).id, login: call.caller.login ?? '', id: call.params.export ?? '' };
    const found = await findExport(databases.app, wanted);
    if (!found) throw notFound('This export');
    return found;
  };

  /** What is printed of a file; undefined for one that is a file of records. */
  const selectionOf = (
    { table, tables, query, title, publicUrl }: RecordsFile,
    { print, asOf }: ExportOrder,
  ): PrintedSelection | undefined => print && { table, tables, query, print, title, asOf, publicUrl };

  route(app, services, routes.orderExport, async (call) => {
    const file = await ordered(call, call.body);
    const printed = selectionOf(file, call.body);
    // What cannot be printed is told now: its tab would have nobody to tell.
    if (printed) await requirePrint(databases.app, printed, exportReader(call, file.tables));
    const total = await countListed(
      databases.work.app,
      file.tables,
      file.table,
      file.query,
      exportReader(call, file.tables),
    );
    const login = call.caller.login ?? '';
    return stateOf(await addExport(databases.app, { table: file.table.id, login, what: call.body, total }));
  });
  route(app, services, routes.exportFile, async (call) => {
    const { id, what, total, state } = await known(call);
    const file = await ordered(call, what);
    const printed = selectionOf(file, what);
    if (printed) {
      // A reader of PDFs may ask again, to save what it shows.
      const pdf = await printSelection(databases.app, printed, exportReader(call, file.tables));
      if (state !== 'cancelled') await reportExport(databases.app, id, { state: 'done', done: total });
      call.reply.type('application/pdf').header('content-disposition', attachmentNamed(file.title, 'pdf', 'inline'));
      return pdf;
    }
    if (!(await beginExport(databases.app, id)))
      throw new Refusal(409, 'This file has been downloaded already, or is being downloaded. Export it again.');
    let done = 0;
    const stream = send(call, file, what.asOf, async (now) => {
      done = now;
      if (!(await reportExport(databases.app, id, { state: 'running', done })))
        throw new Error('The export was cancelled');
    });
    let whole = false;
    stream.once('end', () => {
      whole = true;
    });
    // Where its reader has gone, the pool may have, too: what is told of the export is then told to nobody.
    stream.once('close', () => {
      void reportExport(databases.app, id, { state: whole ? 'done' : 'failed', done }).catch(() => undefined);
    });
    return stream;
  });
  route(app, services, routes.findExport, async (call) => stateOf(await known(call)));
  route(app, services, routes.cancelExport, async (call) => {
    const { id } = await known(call);
    await cancelExport(databases.app, id);
    return stateOf(await known(call));
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
