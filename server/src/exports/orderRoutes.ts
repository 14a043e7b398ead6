import { type ExportOrder, type ExportState, routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { exportPoolAt } from '../database/index.ts';
import { attachmentNamed } from '../formats/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { type PrintedSelection, printSelection, requirePrint } from '../print/index.ts';
import type { Services } from '../services.ts';
import { type Asked, countListed, exportReader, tableOf } from '../views/index.ts';
import { addExport, beginExport, cancelExport, findExport, reportExport, type StoredExport } from './orders.ts';
import type { RecordsFile } from './recordsFile.ts';
import { fileOf, readable, sendFile } from './sending.ts';

/** Exports that are ordered first, so that their page can tell how far they are and cancel them. */
export function orderRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;

  const ordered = (call: Asked, { name, asOf, print: _, listing, ...query }: ExportOrder): Promise<RecordsFile> =>
    fileOf(services, call, query, readable(listing), name ?? tableOf(call).label, asOf);
  /** An export of the caller. Throws 404. */
  const known = async (call: Asked): Promise<StoredExport> => {
    const wanted = { table: tableOf(call).id, login: call.caller.login ?? '', id: call.params.export ?? '' };
    const found = await findExport(databases.app, wanted);
    if (!found) throw notFound(say('This export'));
    return found;
  };

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
      const pdf = await printSelection(
        await exportPoolAt(databases, what.asOf === undefined ? call.walPosition : null),
        printed,
        exportReader(call, file.tables),
      );
      if (state !== 'cancelled') await reportExport(databases.app, id, { state: 'done', done: total });
      call.reply.type('application/pdf').header('content-disposition', attachmentNamed(file.title, 'pdf', 'inline'));
      return pdf;
    }
    if (!(await beginExport(databases.app, id)))
      throw new Refusal(409, say('This file has been downloaded already, or is being downloaded. Export it again.'));
    let done = 0;
    const stream = await sendFile(services, call, file, what.asOf, async (now) => {
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
}

const stateOf = ({ what: _what, ...state }: StoredExport): ExportState => state;

/** What is printed of a file; undefined for one that is a file of records. */
const selectionOf = (
  { table, tables, query, title, publicUrl }: RecordsFile,
  { print, asOf }: ExportOrder,
): PrintedSelection | undefined => print && { table, tables, query, print, title, asOf, publicUrl };
