import type { Readable } from 'node:stream';
import { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { limit, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { matchLevels } from '../tables/index.ts';
import { badRowRoutes } from './badRowRoutes.ts';
import { forgetCorrections } from './corrections.ts';
import { matchLinks } from './matchLinks.ts';
import { importOf, mayReadImport, requireImportRights } from './rights.ts';
import { listImports, receiveFile, viewOf } from './store.ts';
import { targetsOf } from './targets.ts';

/** Files that one account may send in an hour. */
const FILES_AN_HOUR = 120;

export function importRoutes(app: FastifyInstance, services: Services): void {
  const { databases, tasks } = services;
  // A file comes as it is, streamed: it is never held whole.
  app.addContentTypeParser('application/octet-stream', (_request, payload, done) => done(null, payload));

  route(app, services, routes.receiveImport, async ({ params, query, body, caller, request }) => {
    const stream = body as Readable | undefined;
    if (typeof stream?.[Symbol.asyncIterator] !== 'function')
      throw new Refusal(422, say('Send the file itself, with content-type application/octet-stream.'));
    await limit(request, `import:${caller.login}`, FILES_AN_HOUR, 3_600);
    const told = Number(request.headers['content-length']);
    return receiveFile(
      databases,
      params.cabinet ?? '',
      caller.login ?? '',
      query.file,
      stream,
      Number.isFinite(told) ? told : undefined,
    );
  });
  route(app, services, routes.listImports, async ({ params, caller, definitions }) => {
    const imports = await listImports(databases.app, params.cabinet ?? '');
    return { imports: imports.filter((one) => mayReadImport(definitions, caller.login, one)) };
  });
  route(app, services, routes.readImport, async (call) => viewOf(await importOf(databases.app, call)));

  route(app, services, routes.checkImport, async ({ params, body: { plan }, caller, definitions }) => {
    const cabinet = params.cabinet ?? '';
    requireImportRights(cabinet, plan, definitions);
    const row = await importOf(databases.app, { params, caller, definitions });
    if (row.state === 'written')
      throw new Refusal(409, say('This file has been imported already. Send it again to import it twice.'));
    targetsOf(definitions.tables, cabinet, plan);
    await forgetCorrections(databases.owner, row, plan);
    // Neither is under capture: the ledger has the file when it comes and what became of it.
    await databases
      .owner('fiche.import')
      .where({ id: row.id })
      .update({ plan: JSON.stringify(plan), state: 'received' });
    return tasks.begin(
      {
        cabinet,
        // One look at a file at a time.
        table: `import_${row.id}`,
        kind: 'checkImport',
        label: say('Checking {file}', { file: row.file }),
        plan: { id: row.id },
        account: caller.login ?? '',
      },
      300,
    );
  });
  route(app, services, routes.runImport, async ({ params, body, caller, definitions }) => {
    const cabinet = params.cabinet ?? '';
    const row = await importOf(databases.app, { params, caller, definitions });
    if (!row.plan || row.state === 'received') throw new Refusal(409, say('Check the file first.'));
    requireImportRights(cabinet, row.plan, definitions);
    return tasks.begin(
      {
        cabinet,
        ...(row.plan.into.kind === 'table' ? { table: row.plan.into.table } : {}),
        kind: 'writeImport',
        label: say('Importing {file}', { file: row.file }),
        plan: { id: row.id, rows: body.rows },
        account: caller.login ?? '',
      },
      300,
    );
  });

  badRowRoutes(app, services);
  route(app, services, routes.matchLinks, async ({ params, body: { columns }, definitions: { tables } }) => {
    const cabinet = params.cabinet ?? '';
    return {
      links: await matchLinks(databases.app, tables, cabinet, columns),
      levels: await matchLevels(databases.app, tables, cabinet, columns),
    };
  });
}
