import { routes } from '@fiche/core/api';
import { formForRole } from '@fiche/core/rights';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { type Actor, asActor } from '../database/index.ts';
import { type Definitions, summarise } from '../definitions/index.ts';
import type { Services } from '../services.ts';
import { prepareIndexes } from '../tables/index.ts';
import { beginToken } from './begun.ts';
import {
  archiveForm,
  createForm,
  draftView,
  duplicateForm,
  findForm,
  findFormInUse,
  listVersions,
  publishForm,
  saveDraft,
  versionOf,
} from './store.ts';
import { tryRule } from './tryRule.ts';

export function formRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;
  const inEditor = (login: string | null, label: string): Actor => ({
    name: login ?? '',
    through: { kind: 'editor', label },
  });
  const cabinetTables = (definitions: Definitions, cabinet: string) =>
    [...definitions.tables.values()].filter((table) => table.cabinet === cabinet);

  route(app, services, routes.createForm, async ({ params, body, caller }) =>
    summarise(
      await asActor(databases.owner, inEditor(caller.login, body.label), (owner) =>
        createForm(owner, params.cabinet ?? '', body.table, body.label, undefined, {
          may: body.may,
          opensOn: body.opensOn,
          fields: body.fields,
          subforms: body.subforms,
        }),
      ),
    ),
  );

  route(app, services, routes.readForm, async ({ params, query, definitions }) => {
    const form = findFormInUse(definitions, params.form ?? '');
    const read = await versionOf(databases.app, form, query.version);
    const { seen } = definitions;
    return {
      id: form.id,
      version: read.version,
      // With what the role does not see left out, it runs in the browser over what it is given of the tables.
      definition:
        seen && !seen.role.rights.includes('build')
          ? // The settings of the page, its codes above all, are for who builds.
            { ...formForRole(seen.role, read.definition, seen.whole.tables), page: null }
          : read.definition,
      // Nobody begins on a version that is not live any more.
      begun: read.version === form.liveVersion ? await beginToken(databases.app, form.id, read.version) : null,
      tables: cabinetTables(definitions, form.cabinet),
    };
  });

  route(app, services, routes.changeForm, async ({ params, body, caller, definitions }) => {
    const form = findForm(definitions, params.form ?? '');
    return asActor(databases.owner, inEditor(caller.login, form.draft.label), async (owner) =>
      summarise(await archiveForm(owner, form.id, body.archived)),
    );
  });
  route(app, services, routes.duplicateForm, async ({ params, body, caller }) =>
    asActor(databases.owner, inEditor(caller.login, body.label), async (owner) =>
      summarise(await duplicateForm(owner, params.form ?? '', body.label)),
    ),
  );

  route(app, services, routes.listVersions, async ({ params, definitions }) => ({
    versions: await listVersions(databases.app, findForm(definitions, params.form ?? '').id),
  }));

  route(app, services, routes.tryRule, ({ params, body, definitions, caller }) => {
    const form = findForm(definitions, params.form ?? '');
    return tryRule(databases.app, definitions.tables, form.table, body.rule, caller.login);
  });

  route(app, services, routes.tryTableRule, ({ params, body, definitions, caller }) =>
    tryRule(databases.app, definitions.tables, params.table ?? '', body.rule, caller.login),
  );

  route(app, services, routes.readDraft, async ({ params, definitions }) =>
    draftView(databases.app, definitions, findForm(definitions, params.form ?? '')),
  );

  route(app, services, routes.saveDraft, ({ params, body, caller }) =>
    asActor(databases.owner, inEditor(caller.login, body.definition.label), (owner) =>
      saveDraft(owner, params.form ?? '', body.definition, body.revision),
    ),
  );

  route(app, services, routes.publishForm, async ({ params, body, caller, definitions }) => {
    const form = findForm(definitions, params.form ?? '');
    await prepareIndexes(databases.work.owner, form.id);
    return asActor(databases.owner, inEditor(caller.login, form.draft.label), (owner) =>
      publishForm(owner, form.id, body.revision),
    );
  });
}
