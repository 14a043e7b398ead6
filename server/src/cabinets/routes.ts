import { routes } from '@fiche/core/api';
import { say, sayLater } from '@fiche/core/languages';
import { NO_ROLE } from '@fiche/core/rights';
import { labelTaken, nameFrom } from '@fiche/core/tables';
import type { FastifyInstance } from 'fastify';
import { hasRight, route } from '../access/index.ts';
import { accountsOf, addMembership } from '../accounts/index.ts';
import { asActor } from '../database/index.ts';
import { keepOffice, summarise, touchCabinet } from '../definitions/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import { findByWords } from '../records/index.ts';
import type { Services } from '../services.ts';
import { heldCounts } from '../spam/index.ts';
import { createCabinet } from '../tables/index.ts';
import { cabinetOverview } from './overview.ts';
import { taskRoutes } from './taskRoutes.ts';

export function cabinetRoutes(app: FastifyInstance, services: Services): void {
  taskRoutes(app, services);

  route(app, services, routes.createCabinet, async ({ body, caller, definitions }) => {
    if (![...caller.memberships.values()].some((one) => one.rights.includes('build')))
      throw new Refusal(403, say('Your role does not allow making a cabinet. Ask an administrator.'));
    const taken = labelTaken(
      body.label,
      [...definitions.cabinets.values()].map((one) => one.label),
      'label',
    );
    if (taken) throw unacceptable([taken]);
    const id = nameFrom(body.label.slice(0, 20), new Set(definitions.cabinets.keys()), 'cabinet');
    const actor = { name: caller.login ?? '', through: { kind: 'tables', label: sayLater('Cabinets') } } as const;
    await asActor(services.databases.owner, actor, async (owner) => {
      await createCabinet(owner, id, body.label);
      // The new cabinet's first member is who made it.
      await addMembership(owner, caller.login ?? '', id, 'builder');
    });
    return { id, label: body.label };
  });

  route(app, services, routes.changeCabinet, async ({ params, body, caller, definitions }) => {
    const cabinet = definitions.cabinets.get(params.cabinet ?? '');
    if (!cabinet) throw notFound(say('This cabinet'));
    const { label, archived, ...plain } = body;
    const others = [...definitions.cabinets.values()].filter((one) => one !== cabinet).map((one) => one.label);
    const taken = label === undefined ? undefined : labelTaken(label, others, 'label');
    if (taken) throw unacceptable([taken]);
    const actor = { name: caller.login ?? '', through: { kind: 'tables', label: sayLater('Settings') } } as const;
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
    const actor = { name: caller.login ?? '', through: { kind: 'tables', label: sayLater('Settings') } } as const;
    await asActor(services.databases.owner, actor, (owner) => keepOffice(owner, body));
    return body;
  });

  route(app, services, routes.findInCabinet, async ({ params, query, definitions }) => ({
    found: await findByWords(services.databases.app, definitions.tables, params.cabinet ?? '', query.words),
  }));

  route(app, services, routes.cabinetOverview, ({ params, definitions, caller }) => {
    const mayBuild = hasRight(definitions, 'build');
    return cabinetOverview(services.databases.app, definitions, params.cabinet ?? '', caller.login ?? '', mayBuild);
  });

  route(app, services, routes.openCabinet, async ({ params, definitions }) => {
    const cabinet = definitions.cabinets.get(params.cabinet ?? '');
    if (!cabinet) throw notFound(say('This cabinet'));
    const role = definitions.seen?.role;
    const builds = hasRight(definitions, 'build');
    const roles = [...(definitions.roles.get(cabinet.id)?.values() ?? [])];
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
      role: role ?? NO_ROLE,
      roles: roles.map((one) => ({ id: one.id, label: one.label, ...(builds ? { definition: one } : {}) })),
      accounts: await accountsOf(services.databases.app, cabinet.id),
    };
  });
}
