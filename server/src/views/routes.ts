import { routes, type ViewView } from '@fiche/core/api';
import { feedingWords, viewsOfForm } from '@fiche/core/forms';
import { say, sayLater } from '@fiche/core/languages';
import { type Listing, listingProblems, listingSeenBy, type ViewDefinition } from '@fiche/core/views';
import type { FastifyInstance } from 'fastify';
import type { z } from 'zod';
import { route } from '../access/index.ts';
import { asActor, readFromStandby, type Transaction } from '../database/index.ts';
import { asSeenBy, type Definitions, requireInUse, touchCabinet } from '../definitions/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import type { Services } from '../services.ts';
import { type Asked, askingOf, listingAt, tableOf, viewAt } from './asked.ts';
import { listRows } from './rows.ts';
import { addView, countViews, deleteView, findView, type StoredView, viewsOf, writeView } from './store.ts';
import { mayChange, readerOf, viewFor } from './viewFor.ts';

/** Views of one table that one account can make. */
const MOST_VIEWS = 100;

/** Checks that a person makes or changes a view. Throws 403. */
function requirePerson({ caller }: Asked): void {
  if (caller.token) throw new Refusal(403, say('A program makes and changes no views: it can read shared ones.'));
}

/** Whether a page of a list can be found without reading the records before it: those entered last, whatever they hold. */
const isPlain = ({ listing, search, linking, after, at }: z.infer<typeof routes.listRows.body>): boolean =>
  listing.sort.length === 0 &&
  listing.group === null &&
  listing.filter.of.length === 0 &&
  search === '' &&
  linking === undefined &&
  after === undefined &&
  !at;

/** Whether a role would have a view of the table: it sees the table, and what the filter reads. */
function isSeenBy(asked: Asked, role: string, listing: Listing): boolean {
  const { id, cabinet } = tableOf(asked);
  const whole = asked.definitions.seen?.whole ?? asked.definitions;
  const { tables } = asSeenBy(whole, cabinet, role, asked.caller.login ?? '');
  const table = tables.get(id);
  return table !== undefined && listingSeenBy(listing, table, tables) !== undefined;
}

/** What a view feeds in the forms of its cabinet, in words: `which records the form Berth inspection round shows`. */
function usesOfView({ seen, forms, tables }: Definitions, cabinet: string, view: number): string[] {
  const all = seen?.whole.tables ?? tables;
  return [...(seen?.whole.forms ?? forms).values()]
    .filter((form) => form.cabinet === cabinet)
    .flatMap((form) => {
      const uses = [form.draft, ...(form.live ? [form.live] : [])].flatMap((one) => viewsOfForm(one, all));
      const words = uses
        .filter((use) => use.view === view)
        .map((use) =>
          use.says === 'records'
            ? say('which records the form {label} shows', { label: form.draft.label })
            : say('{use} in the form {label}', { use: feedingWords(use), label: form.draft.label }),
        );
      return [...new Set(words)];
    });
}

const listed = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;

/** Checks what a caller wants a view to be. Throws 422 at the place of each fault, and 403. */
function requireSound(asked: Asked, definition: ViewDefinition): void {
  requirePerson(asked);
  requireInUse(asked.definitions, tableOf(asked).cabinet, [tableOf(asked)]);
  const problems = listingProblems(definition, tableOf(asked), asked.definitions.tables);
  if (problems.length > 0) throw unacceptable(problems.map((one) => ({ ...one, path: `definition.${one.path}` })));
  const known = asked.definitions.roles.get(tableOf(asked).cabinet);
  if (definition.roles?.some((role) => !known?.has(role)))
    throw unacceptable([
      {
        path: 'definition.roles',
        rule: 'role',
        message: say('One of these roles is not there any more. Choose again.'),
      },
    ]);
  if (definition.shared && definition.roles && !definition.roles.some((role) => isSeenBy(asked, role, definition)))
    throw unacceptable([
      {
        path: 'definition.roles',
        rule: 'role',
        message: say('None of these roles sees what the view reads, so nobody would have it. Choose other roles.'),
      },
    ]);
  if (definition.shared && !readerOf(asked).builds)
    throw new Refusal(
      403,
      say('Who may build shares views with everybody. Keep this one for yourself, or ask a builder.'),
    );
}

/** A view that the caller may change, locked. Throws 404 and 403. */
async function changeable(owner: Transaction, asked: Asked): Promise<StoredView> {
  const view = await findView(owner, tableOf(asked).id, readerOf(asked), Number(asked.params.view), true);
  if (!view || !viewFor(asked, tableOf(asked), view)) throw notFound(say('This view'));
  requirePerson(asked);
  if (!mayChange(asked, view))
    throw new Refusal(403, say('This view is shared: who may build changes it. Save yours as another view.'));
  return view;
}

/** Checks that no form is fed by a view that is to go. Throws 409, naming where. */
function requireUnused(asked: Asked, { id, label }: StoredView): void {
  const uses = usesOfView(asked.definitions, tableOf(asked).cabinet, id);
  if (uses.length > 0)
    throw new Refusal(
      409,
      say('{label} is in use: it says {uses}. Choose another view there first.', { label, uses: listed(uses) }),
    );
}

/** Views of tables, and the records that they list. */
export function viewRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;

  const asCaller = <T>({ caller }: Asked, work: (owner: Transaction) => Promise<T>): Promise<T> =>
    asActor(databases.owner, { name: caller.login ?? '', through: { kind: 'tables', label: sayLater('Views') } }, work);

  const answer = async (asked: Asked, owner: Transaction, id: number): Promise<ViewView> => {
    const view = await findView(owner, tableOf(asked).id, readerOf(asked), id);
    const shown = view && viewFor(asked, tableOf(asked), view);
    if (!shown) throw notFound(say('This view'));
    return shown;
  };

  route(app, services, routes.listViews, async (call) => ({
    views: (await viewsOf(databases.app, tableOf(call).id, readerOf(call))).flatMap(
      (view) => viewFor(call, tableOf(call), view) ?? [],
    ),
  }));

  route(app, services, routes.createView, async (call) => {
    const { definition } = call.body;
    const login = call.caller.login ?? '';
    requireSound(call, definition);
    return asCaller(call, async (owner) => {
      if ((await countViews(owner, tableOf(call).id, login)) >= MOST_VIEWS)
        throw new Refusal(
          409,
          say('You have made {mostViews} views of this table. Delete some that you do not need.', {
            mostViews: MOST_VIEWS,
          }),
        );
      return answer(call, owner, await addView(owner, tableOf(call).id, login, definition));
    });
  });

  route(app, services, routes.changeView, (call) =>
    asCaller(call, async (owner) => {
      const view = await changeable(owner, call);
      requireSound(call, call.body.definition);
      if (view.revision !== call.body.revision)
        throw new Refusal(
          409,
          say('Somebody else has changed this view meanwhile. Look at it again, then make your change.'),
        );
      if (!call.body.definition.shared) requireUnused(call, view);
      await writeView(owner, view, call.body.definition);
      // Dropdowns that it feeds offer other records from now on.
      if (usesOfView(call.definitions, tableOf(call).cabinet, view.id).length > 0)
        await touchCabinet(owner, tableOf(call).cabinet);
      return answer(call, owner, view.id);
    }),
  );

  route(app, services, routes.deleteView, (call) =>
    asCaller(call, async (owner) => {
      const view = await changeable(owner, call);
      requireUnused(call, view);
      await deleteView(owner, view.id);
      return {};
    }),
  );

  route(app, services, routes.viewRecords, async (call) => {
    const { tables, table, listing } = await viewAt(call, services, call.query);
    return readFromStandby(databases, call.walPosition, (database) =>
      listRows(database, tables, table, { ...call.query, listing }, { asking: askingOf(call) }),
    );
  });

  route(app, services, routes.listRows, async (call) => {
    const early = call.body.early && isPlain(call.body);
    const { tables, table, ready } = await listingAt(call, services, { ...call.body, early });
    return readFromStandby(databases, call.walPosition, (database) =>
      listRows(database, tables, table, { ...call.body, counted: ready }, { asking: askingOf(call) }),
    );
  });
}
