import type { Readable } from 'node:stream';
import { routes } from '@fiche/core/api';
import type { ImportPlan } from '@fiche/core/imports';
import { quoted, relation } from '@fiche/core/queries';
import { stringify } from 'csv-stringify/sync';
import type { FastifyInstance } from 'fastify';
import { type Caller, holdMayWrite, needRight, route } from '../access/index.ts';
import { type Definitions, holdInUse } from '../definitions/index.ts';
import { limit, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { matchLevels } from '../tables/index.ts';
import { correctRows, forgetCorrections } from './corrections.ts';
import { findImport, listImports, receiveFile, viewOf } from './store.ts';
import { targetsOf } from './targets.ts';

/** Files that one account may send in an hour. */
const FILES_AN_HOUR = 120;
const BAD_PAGE = 50;

export function importRoutes(app: FastifyInstance, services: Services): void {
  const { databases, tasks } = services;
  // A file comes as it is, streamed: it is never held whole.
  app.addContentTypeParser('application/octet-stream', (_request, payload, done) => done(null, payload));

  route(app, services, routes.receiveImport, async ({ params, query, body, caller, request }) => {
    const stream = body as Readable | undefined;
    if (typeof stream?.[Symbol.asyncIterator] !== 'function')
      throw new Refusal(422, 'Send the file itself, with content-type application/octet-stream.');
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
  route(app, services, routes.listImports, async ({ params }) => ({
    imports: await listImports(databases.app, params.cabinet ?? ''),
  }));
  route(app, services, routes.readImport, async ({ params }) =>
    viewOf(await findImport(databases.app, params.cabinet ?? '', Number(params.import))),
  );

  route(app, services, routes.checkImport, async ({ params, body: { plan }, caller, definitions }) => {
    const cabinet = params.cabinet ?? '';
    holdRights(caller, cabinet, plan, definitions);
    const row = await findImport(databases.app, cabinet, Number(params.import));
    if (row.state === 'written')
      throw new Refusal(409, 'This file has been imported already. Send it again to import it twice.');
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
        label: `Checking ${row.file}`,
        plan: { id: row.id },
        account: caller.login ?? '',
      },
      300,
    );
  });
  route(app, services, routes.runImport, async ({ params, body, caller, definitions }) => {
    const cabinet = params.cabinet ?? '';
    const row = await findImport(databases.app, cabinet, Number(params.import));
    if (!row.plan || row.state === 'received') throw new Refusal(409, 'Check the file first.');
    holdRights(caller, cabinet, row.plan, definitions);
    return tasks.begin(
      {
        cabinet,
        ...(row.plan.into.kind === 'table' ? { table: row.plan.into.table } : {}),
        kind: 'writeImport',
        label: `Bringing ${row.file} in`,
        plan: { id: row.id, rows: body.rows },
        account: caller.login ?? '',
      },
      300,
    );
  });

  const namesOf = (plan: ImportPlan | null): string[] => {
    const names: string[] = [];
    for (const column of plan?.columns ?? []) names[column.at] = column.name;
    return Array.from(names, (name) => name ?? '');
  };
  route(app, services, routes.badRows, async ({ params, query }) => {
    const row = await findImport(databases.app, params.cabinet ?? '', Number(params.import));
    const rows = await databases
      .app('fiche.import_bad_row')
      .where({ import: row.id })
      .andWhere('number', '>', query.after)
      .orderBy('number')
      .limit(BAD_PAGE)
      .select('number', 'cells', 'problems');
    return { names: namesOf(row.plan), rows };
  });
  route(app, services, routes.correctRows, async ({ params, body: { rows }, caller, definitions }) => {
    const cabinet = params.cabinet ?? '';
    const row = await findImport(databases.app, cabinet, Number(params.import));
    if (!row.plan || row.state !== 'checked')
      throw new Refusal(
        409,
        'The file is being checked, or is imported already. Check it first, then correct its rows.',
      );
    holdRights(caller, cabinet, row.plan, definitions);
    return { rows: await correctRows(databases, definitions, { ...row, plan: row.plan }, rows, caller.login ?? '') };
  });
  route(app, services, routes.badRowsFile, async ({ params, reply }) => {
    const row = await findImport(databases.app, params.cabinet ?? '', Number(params.import));
    const names = namesOf(row.plan);
    const rows: { cells: string[]; problems: { column: string; message: string }[] }[] = await databases
      .app('fiche.import_bad_row')
      .where({ import: row.id })
      .orderBy('number')
      .select('cells', 'problems');
    // As the file had them, so that they can be mended and sent again; the reason goes nowhere then.
    const lines = rows.map((one) => [
      ...names.map((_name, at) => one.cells[at] ?? ''),
      one.problems.map((problem) => `${problem.column}: ${problem.message}`).join(' '),
    ]);
    reply.type('text/csv; charset=utf-8').header('content-disposition', `attachment; filename="rows-to-correct.csv"`);
    return `\ufeff${stringify([[...names, 'Reason'], ...lines], { escape_formulas: true })}`;
  });

  route(app, services, routes.matchLinks, async ({ params, body, definitions }) => {
    const tables = [...definitions.tables.values()].filter(
      (one) => one.cabinet === params.cabinet && one.kind === 'records',
    );
    const links = [];
    for (const { name, cells } of body.columns) {
      const texts = [...new Set(cells.map((cell) => cell.normalize('NFC').trim()).filter((cell) => cell !== ''))];
      if (texts.length === 0) continue;
      let best: { name: string; table: string; field: string; share: number } | undefined;
      for (const table of tables)
        for (const field of table.fields) {
          if (!['text', 'sequence', 'email'].includes(field.type)) continue;
          const { rows } = await databases.app.raw<{ rows: { n: number }[] }>(
            `SELECT count(DISTINCT lower(${quoted(field.id)})) AS n FROM ${relation(table.id)} WHERE archived_at IS NULL AND lower(${quoted(field.id)}) IN (SELECT lower(t) FROM unnest(?::text[]) t)`,
            [texts] as unknown as string[],
          );
          const share = (rows[0]?.n ?? 0) / texts.length;
          // A table called like the column is meant before another that has the same words.
          const score = share + (table.label.toLowerCase().startsWith(name.trim().toLowerCase().slice(0, 5)) ? 0.2 : 0);
          if (share >= 0.6 && score > (best?.share ?? 0))
            best = { name, table: table.id, field: field.id, share: score };
        }
      if (best) links.push({ ...best, share: Math.min(1, best.share) });
    }
    return { links, levels: await matchLevels(databases.app, definitions.tables, params.cabinet ?? '', body.columns) };
  });
}

/** Adding needs the right to add, changing the right to change, a new table the right to build; all is in use. */
function holdRights(caller: Caller, cabinet: string, plan: ImportPlan, definitions: Definitions): void {
  const into = plan.into.kind === 'table' ? definitions.tables.get(plan.into.table) : undefined;
  if (into) holdMayWrite(caller, into, 'add');
  holdInUse(definitions, cabinet, into ? [into] : []);
  if (plan.into.kind === 'new') needRight(caller, cabinet, 'build');
  if (plan.key.length > 0 && plan.found === 'change') needRight(caller, cabinet, 'change');
  needRight(caller, cabinet, 'add');
}
