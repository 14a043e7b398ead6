import { routes } from '@fiche/core/api';
import { labelProblems } from '@fiche/core/labels';
import { say, sayLater } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { asActor, type Transaction } from '../database/index.ts';
import { requireInUse } from '../definitions/index.ts';
import { attachmentNamed } from '../formats/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { type Asked, askingOf, exportReader, readAt, requireReadable, tableOf } from '../views/index.ts';
import { cardDocument } from './card.ts';
import { previewOf, requireLayout } from './labels.ts';
import { addLayout, deleteLayout, findLayout, layoutsOf, writeLayout } from './layouts.ts';
import { makePdf } from './pdf.ts';
import { printedAsOf, printedRecord } from './record.ts';

/** Label layouts that one table can have. */
const MOST_LAYOUTS = 100;

/** Prints cards, and keeps what stands on labels. */
export function printRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;

  route(app, services, routes.printRecord, async (call) => {
    const { params, query, definitions, reply } = call;
    const wanted = { table: tableOf(call).id, id: Number(params.id), form: query.form };
    const card =
      query.asOf === undefined
        ? await printedRecord(databases.app, definitions, wanted, askingOf(call))
        : await printedAsOf(databases.app, definitions, wanted, query.asOf);
    reply.type('application/pdf').header('content-disposition', attachmentNamed(card.title, 'pdf', 'inline'));
    return makePdf(cardDocument(card, query.paper));
  });

  const asCaller = <T>({ caller }: Asked, work: (owner: Transaction) => Promise<T>): Promise<T> =>
    asActor(
      databases.owner,
      { name: caller.login ?? '', through: { kind: 'tables', label: sayLater('Labels') } },
      work,
    );

  route(app, services, routes.listLabelLayouts, async (call) => ({
    layouts: (await layoutsOf(databases.app, tableOf(call).id)).filter(
      // A layout that reads what the role does not see is none for it.
      ({ layout }) => labelProblems(layout, tableOf(call), call.definitions.tables).length === 0 || seesAll(call),
    ),
  }));
  route(app, services, routes.createLabelLayout, (call) =>
    asCaller(call, async (owner) => {
      const table = tableOf(call);
      requireInUse(call.definitions, table.cabinet, [table]);
      requireLayout(call.definitions.tables, table, call.body.layout);
      if ((await layoutsOf(owner, table.id)).length >= MOST_LAYOUTS)
        throw new Refusal(
          409,
          say('{label} has {mostLayouts} label layouts. Delete some that nobody needs.', {
            label: table.label,
            mostLayouts: MOST_LAYOUTS,
          }),
        );
      return addLayout(owner, table.id, call.body);
    }),
  );
  route(app, services, routes.changeLabelLayout, (call) =>
    asCaller(call, async (owner) => {
      const table = tableOf(call);
      const found = await findLayout(owner, table.id, Number(call.params.layout));
      if (!found) throw notFound(say('This label layout'));
      requireLayout(call.definitions.tables, table, call.body.layout);
      if (found.revision !== call.body.revision)
        throw new Refusal(
          409,
          say('Somebody else has changed these labels meanwhile. Look at them again, then make your change.'),
        );
      return writeLayout(owner, found.id, call.body);
    }),
  );
  route(app, services, routes.deleteLabelLayout, (call) =>
    asCaller(call, async (owner) => {
      const found = await findLayout(owner, tableOf(call).id, Number(call.params.layout));
      if (!found) throw notFound(say('This label layout'));
      await deleteLayout(owner, found.id);
      return {};
    }),
  );

  route(app, services, routes.previewLabels, async (call) => {
    const { layout, start, asOf, ...query } = call.body;
    const { table, tables } = await readAt(call, services, asOf);
    requireReadable(query.listing, { table, tables });
    requireLayout(tables, table, layout);
    const reader = exportReader(call, tables);
    return previewOf({ database: databases.app, tables, table, query, reader }, { layout, start });
  });
}

const seesAll = ({ definitions: { tables, seen } }: Asked): boolean => !seen || tables === seen.whole.tables;
