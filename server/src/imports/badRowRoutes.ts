import { routes } from '@fiche/core/api';
import type { ImportPlan } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { stringify } from 'csv-stringify/sync';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { correctRows } from './corrections.ts';
import { importOf, requireImportRights } from './rights.ts';

/** Bad rows that one answer has. */
const BAD_PAGE = 50;

/** Routes of the rows that cannot be imported: shown, corrected in place, taken out as a file. */
export function badRowRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;
  const namesOf = (plan: ImportPlan | null): string[] => {
    const names: string[] = [];
    for (const column of plan?.columns ?? []) names[column.at] = column.name;
    return Array.from(names, (name) => name ?? '');
  };
  route(app, services, routes.badRows, async ({ params, query, caller, definitions }) => {
    const row = await importOf(databases.app, { params, caller, definitions });
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
    const row = await importOf(databases.app, { params, caller, definitions });
    if (!row.plan || row.state !== 'checked')
      throw new Refusal(
        409,
        say('The file is being checked, or is imported already. Check it first, then correct its rows.'),
      );
    requireImportRights(cabinet, row.plan, definitions);
    return { rows: await correctRows(databases, definitions, { ...row, plan: row.plan }, rows, caller.login ?? '') };
  });
  route(app, services, routes.badRowsFile, async ({ params, reply, caller, definitions }) => {
    const row = await importOf(databases.app, { params, caller, definitions });
    const names = namesOf(row.plan);
    const rows: { cells: string[]; problems: { column: string; message: string }[] }[] = await databases
      .app('fiche.import_bad_row')
      .where({ import: row.id })
      .orderBy('number')
      .select('cells', 'problems');
    // As the file had them, so that they can be corrected and sent again; the reason goes nowhere then.
    const lines = rows.map((one) => [
      ...names.map((_name, at) => one.cells[at] ?? ''),
      one.problems.map((problem) => `${problem.column}: ${problem.message}`).join(' '),
    ]);
    reply.type('text/csv; charset=utf-8').header('content-disposition', `attachment; filename="rows-to-correct.csv"`);
    return `\ufeff${stringify([[...names, 'Reason'], ...lines], { escape_formulas: true })}`;
  });
}
