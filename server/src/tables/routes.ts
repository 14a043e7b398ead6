import { routes, type TaskView } from '@fiche/core/api';
import { fieldType, withArticle } from '@fiche/core/fields';
import { relation } from '@fiche/core/queries';
import { constraintWords, findField, type TableDefinition } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { type Caller, route } from '../access/index.ts';
import { constraintProblem } from '../constraints/index.ts';
import { type Actor, asActor, type Transaction } from '../database/index.ts';
import { holdInUse, loadDefinitions, loadTable, refuseForeignTables, withinCabinet } from '../definitions/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import { linkingSql, linksTo, showTitle, titleSql } from '../records/index.ts';
import type { Services } from '../services.ts';
import { holdBackfill } from './backfill.ts';
import { holdTypeChange } from './changeType.ts';
import { createList, saveCombinations, useList } from './combinations.ts';
import { addField, changeField, copyFields, type FieldChange, retireField, returnField } from './fields.ts';
import { removeConstraint } from './hold.ts';
import { holdLiveForms } from './liveForms.ts';
import { makeLines } from './makeLines.ts';
import { readSettings } from './readSettings.ts';
import { changeTable, createTable } from './store.ts';
import { fieldLevels, holdLevels, withLevel } from './takeLevels.ts';
import { constraintMisfit, previewType, tryHold } from './trial.ts';

/** How many linking records are named; the rest are counted. */
const NAMED = 8;

export function tableRoutes(app: FastifyInstance, services: Services): void {
  const { databases, tasks } = services;
  const builder = (caller: Caller): Actor => ({
    name: caller.login ?? '',
    through: { kind: 'tables', label: 'Tables' },
  });
  const build = <T>(caller: Caller, work: (owner: Transaction) => Promise<T>): Promise<T> =>
    asActor(databases.owner, builder(caller), work);
  const current = async (id: string): Promise<TableDefinition> => {
    const table = await loadTable(databases.owner, id);
    if (!table) throw notFound('This table');
    return table;
  };
  const holdRevision = (table: TableDefinition, revision: number | undefined): void => {
    if (revision !== undefined && revision !== table.revision)
      throw new Refusal(
        409,
        'Somebody else has changed this table meanwhile. It is shown as it is now: look, then make your change again.',
      );
  };
  /** Begins work on a table's structure; quick work that was refused is a refusal of the request. */
  const begin = async (table: TableDefinition, caller: Caller, kind: string, label: string, plan: object) => {
    const task = await tasks.begin({
      cabinet: table.cabinet,
      table: table.id,
      kind,
      label,
      plan,
      account: caller.login ?? '',
    });
    if (task.state === 'failed') throw asRefusal(task);
    return { table: await current(table.id), task: task.state === 'done' ? null : task };
  };

  route(app, services, routes.createTable, ({ params, body, caller }) =>
    build(caller, (owner) => createTable(owner, params.cabinet ?? '', body.label, body.description)),
  );
  route(app, services, routes.createList, ({ params, body, caller }) =>
    build(caller, (owner) => createList(owner, params.cabinet ?? '', body.label, body.levels)),
  );
  route(app, services, routes.useList, ({ params, body, caller }) =>
    build(caller, async (owner) => {
      const list = await loadTable(owner, params.table ?? '');
      if (!list) throw notFound('This option list');
      return useList(owner, list, body);
    }),
  );
  route(app, services, routes.makeLines, ({ params, body, caller }) =>
    build(caller, (owner) => makeLines(owner, params.table ?? '', body.label)),
  );
  route(app, services, routes.changeTable, ({ params, body, caller }) =>
    build(caller, (owner) => changeTable(owner, params.table ?? '', body)),
  );

  route(app, services, routes.addField, async ({ params, body: { field, backfill }, caller }) => {
    const id = params.table ?? '';
    const table = await current(id);
    const { rows } = await databases.owner.raw<{ rows: unknown[] }>(`SELECT 1 FROM ${relation(id)} LIMIT 1`);
    if (backfill.kind === 'nothing' || rows.length === 0)
      return { table: await build(caller, (owner) => addField(owner, id, field)), task: null };
    if (table.fields.some((one) => one.label.toLowerCase() === field.label.toLowerCase()))
      throw unacceptable([
        { path: 'label', rule: 'label', message: `“${field.label}” is there already. Give this one another label.` },
      ]);
    holdBackfill(table, { field, backfill });
    return begin(table, caller, 'backfillField', `${table.label}: adding ${field.label}`, { field, backfill });
  });
  route(app, services, routes.copyFields, ({ params, body, caller }) =>
    build(caller, (owner) => copyFields(owner, params.table ?? '', body.from, body.fields)),
  );
  route(app, services, routes.changeField, async ({ params, body, caller }) => {
    const table = await current(params.table ?? '');
    const field = findField(table, params.field ?? '');
    if (!field) throw notFound('This field');
    holdRevision(table, body.revision);
    const { required, unique, ...rest } = body;
    const off: FieldChange = {
      ...rest,
      ...(required === false ? { required } : {}),
      ...(unique === false ? { unique } : {}),
    };
    if ((required === true || unique === true) && (!fieldType(field.type).editable || field.type === 'links'))
      throw unacceptable([
        {
          path: 'type',
          rule: 'fixed',
          message: `A ${fieldType(field.type).word} is neither required nor unique by choice.`,
        },
      ]);
    const done = await build(caller, (owner) => changeField(owner, table.id, field.id, off));
    const on = (['required', 'unique'] as const).find((kind) => body[kind] === true && !field[kind]);
    if (!on) return { table: done, task: null };
    return begin(table, caller, 'hold', `${table.label}: making ${field.label} ${on}`, { kind: on, field: field.id });
  });
  route(app, services, routes.retireField, ({ params, caller }) =>
    build(caller, (owner) => retireField(owner, params.table ?? '', params.field ?? '')),
  );
  route(app, services, routes.returnField, ({ params, caller }) =>
    build(caller, (owner) => returnField(owner, params.table ?? '', params.field ?? '')),
  );

  const readType = (body: { type: string; settings: Readonly<Record<string, unknown>>; matchOn?: string }) => ({
    type: body.type,
    settings: readSettings(body.type, body.settings),
    ...(body.matchOn === undefined ? {} : { matchOn: body.matchOn }),
  });
  route(app, services, routes.previewType, async ({ params, body, definitions }) => {
    const table = definitions.tables.get(params.table ?? '');
    if (!table) throw notFound('This table');
    const to = readType(body);
    holdTypeChange(table, { field: params.field ?? '', ...to, unconverted: 'refuse' });
    const found = await previewType(databases.app, definitions.tables, table.id, params.field ?? '', to);
    return { ...found, failing: [...found.failing] };
  });
  route(app, services, routes.changeType, async ({ params, body, caller }) => {
    const table = await current(params.table ?? '');
    const field = findField(table, params.field ?? '');
    holdRevision(table, body.revision);
    const plan = { field: params.field ?? '', ...readType(body), unconverted: body.unconverted };
    const now = withinCabinet(await loadDefinitions(databases.owner), table.cabinet);
    refuseForeignTables(now.tables, plan.settings, 'settings');
    holdTypeChange(table, plan);
    const { type, settings } = plan;
    const fields = table.fields.map((one) => (one.id === plan.field ? { ...one, type, settings } : one));
    holdLiveForms(now.tables, now.forms, { ...table, fields });
    return begin(
      table,
      caller,
      'changeFieldType',
      `${table.label}: ${field?.label} becomes ${withArticle(fieldType(body.type))}`,
      plan,
    );
  });

  route(app, services, routes.fieldLevels, async ({ params, definitions }) => {
    const table = definitions.tables.get(params.table ?? '');
    if (!table) throw notFound('This table');
    return { levels: await fieldLevels(databases.app, definitions.tables, table) };
  });
  route(app, services, routes.takeLevels, async ({ params, body: { levels, revision }, caller }) => {
    const table = await current(params.table ?? '');
    holdRevision(table, revision);
    const { tables, forms } = withinCabinet(await loadDefinitions(databases.owner), table.cabinet);
    holdLevels(tables, table, levels);
    const fields = table.fields.map((field) => {
      const level = levels.find((one) => one.field === field.id);
      return level ? withLevel(field, level) : field;
    });
    holdLiveForms(tables, forms, { ...table, fields });
    const labels = levels.map((one) => findField(table, one.field)?.label).join(', ');
    return begin(table, caller, 'takeLevels', `${table.label}: ${labels} become choices from an option list`, {
      levels,
    });
  });

  route(app, services, routes.tryHold, async ({ params, body, definitions, caller }) => {
    const table = definitions.tables.get(params.table ?? '');
    if (table && body.kind === 'constraint') refuseMisfit(table, body.constraint);
    const found = await tryHold(databases.app, definitions.tables, params.table ?? '', body, caller.login);
    return { ...found, examples: [...found.examples] };
  });
  route(app, services, routes.addConstraint, async ({ params, body: { constraint, revision }, caller }) => {
    const table = await current(params.table ?? '');
    holdRevision(table, revision);
    refuseMisfit(table, constraint);
    if (table.constraints.some((one) => one.id === constraint.id))
      throw unacceptable([{ path: 'constraint.id', rule: 'id', message: 'A rule of this name is there already.' }]);
    const words = constraintWords(constraint, (id) => findField(table, id)?.label ?? id);
    return begin(table, caller, 'hold', `${table.label}: ${words}`, { kind: 'constraint', constraint });
  });
  route(app, services, routes.removeConstraint, ({ params, caller }) =>
    build(caller, async (owner) => {
      await removeConstraint(owner, params.table ?? '', params.constraint ?? '');
      return changeTable(owner, params.table ?? '', {});
    }),
  );

  route(app, services, routes.saveCombinations, ({ params, body, caller, definitions }) => {
    const table = definitions.tables.get(params.table ?? '');
    if (!table) throw notFound('This table');
    holdInUse(definitions, table.cabinet, [table]);
    const actor = { name: caller.login ?? '', through: { kind: 'table', label: table.label } } as const;
    return asActor(databases.app, actor, (transaction) => saveCombinations(transaction, table, body)).catch((error) => {
      throw constraintProblem(table, error) ?? error;
    });
  });

  route(app, services, routes.linkingRecords, async ({ params, definitions: { tables } }) => {
    const id = Number(params.id);
    const linking = [];
    for (const { table, field } of linksTo(tables, params.table ?? '')) {
      if (!table.fields.includes(field)) continue;
      const { rows } = await databases.app.raw<{ rows: { id: number; title: unknown; count: number }[] }>(
        `SELECT r.id, ${titleSql(tables, table, 'r')} AS title, count(*) OVER () AS count FROM ${relation(table.id)} r WHERE r.archived_at IS NULL AND ${linkingSql(field, 'r')} ORDER BY r.id LIMIT ${NAMED}`,
        [id],
      );
      linking.push({
        table: table.id,
        field: field.id,
        count: rows[0]?.count ?? 0,
        records: rows.map((row) => ({ id: row.id, title: showTitle(tables, table, row.title) })),
      });
    }
    return { linking };
  });
}

function refuseMisfit(table: TableDefinition, constraint: Parameters<typeof constraintMisfit>[1]): void {
  const why = constraintMisfit(table, constraint);
  if (why) throw unacceptable([{ path: 'constraint', rule: 'constraint', message: why }]);
}

const asRefusal = (task: TaskView): Refusal =>
  new Refusal(422, task.message ?? 'This could not be done.', (task.outcome?.errors as []) ?? []);
