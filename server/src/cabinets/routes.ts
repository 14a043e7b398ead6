import { routes } from '@fiche/core/api';
import { labelTaken, nameFrom } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { needRight, route } from '../access/index.ts';
import { accountsOf, rolesOf } from '../accounts/index.ts';
import { asActor } from '../database/index.ts';
import { keepOffice, summarise, touchCabinet } from '../definitions/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import { findByTitle } from '../records/index.ts';
import type { Services } from '../services.ts';
import { heldCounts } from '../spam/index.ts';
import { createCabinet } from '../tables/index.ts';
import { cabinetOverview } from './overview.ts';

export function cabinetRoutes(app: FastifyInstance, services: Services): void {
  const { tasks } = services;
  route(app, services, routes.listTasks, async ({ params }) => ({ tasks: await tasks.list(params.cabinet ?? '') }));
  route(app, services, routes.readTask, ({ params }) => tasks.view(Number(params.task), params.cabinet));
  route(app, services, routes.cancelTask, async ({ params, caller }) => {
    const cabinet = params.cabinet ?? '';
    const task = await tasks.view(Number(params.task), cabinet);
    // One's own work, or anybody's for who may build.
    if (task.account !== caller.login) needRight(caller, cabinet, 'build');
    return tasks.cancel(task.id, cabinet);
  });

  route(app, services, routes.createCabinet, async ({ body, caller, definitions }) => {
    const builder = [...caller.memberships.values()].find((one) => one.rights.includes('build'));
    if (!builder) throw new Refusal(403, 'Your role does not allow making a cabinet. Ask an administrator.');
    const taken = labelTaken(
      body.label,
      [...definitions.cabinets.values()].map((one) => one.label),
      'label',
    );
    if (taken) throw unacceptable([taken]);
    const id = nameFrom(body.label.slice(0, 20), new Set(definitions.cabinets.keys()), 'cabinet');
    const actor = { name: caller.login ?? '', through: { kind: 'tables', label: 'Cabinets' } } as const;
    await asActor(services.databases.owner, actor, async (owner) => {
      await createCabinet(owner, id, body.label);
      // The new cabinet's first member is who made it, in the role that allowed it.
      await owner.raw(
        'INSERT INTO fiche.membership (login, cabinet, role) SELECT login, ?, role FROM fiche.membership WHERE login = ? AND cabinet = ?',
        [id, caller.login, builder.cabinet] as string[],
      );
    });
    return { id, label: body.label };
  });

  route(app, services, routes.changeCabinet, async ({ params, body, caller, definitions }) => {
    const cabinet = definitions.cabinets.get(params.cabinet ?? '');
    if (!cabinet) throw notFound('This cabinet');
    const { label, archived, ...plain } = body;
    const others = [...definitions.cabinets.values()].filter((one) => one !== cabinet).map((one) => one.label);
    const taken = label === undefined ? undefined : labelTaken(label, others, 'label');
    if (taken) throw unacceptable([taken]);
    const actor = { name: caller.login ?? '', through: { kind: 'tables', label: 'Settings' } } as const;
    await asActor(services.databases.owner, actor, async (owner) => {
      await touchCabinet(owner, cabinet.id);
      const columns = {
        ...plain,
        ...(label === undefined ? {} : { label }),
        ...(archived === undefined ? {} : { archived_at: archived ? owner.raw('fiche.moment()') : null }),
      };
      if (Object.keys(columns).length > 0) await owner('fiche.cabinet').where({ id: cabinet.id }).update(columns);
    });
    return { id: cabinet.id, label: label ?? cabinet.label };
  });

  route(app, services, routes.changeOffice, async ({ body, caller }) => {
    const actor = { name: caller.login ?? '', through: { kind: 'tables', label: 'Settings' } } as const;
    await asActor(services.databases.owner, actor, (owner) => keepOffice(owner, body));
    return body;
  });

  route(app, services, routes.findInCabinet, async ({ params, query, definitions }) => ({
    found: await findByTitle(services.databases.app, definitions.tables, params.cabinet ?? '', query.words),
  }));

  route(app, services, routes.cabinetOverview, ({ params, definitions, caller }) => {
    const id = params.cabinet ?? '';
    const mayBuild = caller.memberships.get(id)?.rights.includes('build') === true;
    return cabinetOverview(services.databases.app, definitions, id, caller.login ?? '', mayBuild);
  });

  route(app, services, routes.openCabinet, async ({ params, definitions }) => {
    const cabinet = definitions.cabinets.get(params.cabinet ?? '');
    if (!cabinet) throw notFound('This cabinet');
    const held = await heldCounts(services.databases.app);
    const here = <T extends { cabinet: string }>(all: Iterable<T>): T[] =>
      [...all].filter((one) => one.cabinet === cabinet.id);
    return {
      id: cabinet.id,
      label: cabinet.label,
      description: cabinet.description,
      archived: cabinet.archived,
      tables: here(definitions.tables.values()),
      forms: here(definitions.forms.values()).map((form) => ({ ...summarise(form), held: held.get(form.id) ?? 0 })),
      roles: await rolesOf(services.databases.app),
      accounts: await accountsOf(services.databases.app, cabinet.id),
    };
  });
}
