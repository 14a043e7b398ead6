import { type HomeAnswer, type HomeViews, routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { type Call, route } from '../access/index.ts';
import { Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { readerOf, type StoredView, viewFor, viewsForHome } from '../views/index.ts';
import { homeOf, keepHome } from './store.ts';

type Asked = Pick<Call<unknown, unknown>, 'params' | 'caller' | 'definitions'>;

/** Home: the views that somebody looks at first. */
export function homeRoutes(app: FastifyInstance, services: Services): void {
  const { app: database } = services.databases;

  /** The Home of the caller, out of what is on everybody’s and their own choice; what they do not see is not there. */
  const answer = async (asked: Asked, chosen: HomeViews): Promise<HomeAnswer> => {
    const cabinet = asked.params.cabinet ?? '';
    const { tables } = asked.definitions;
    const own = [...tables.values()].filter((table) => table.cabinet === cabinet && !table.archived);
    const stored = await viewsForHome(
      database,
      own.map((table) => table.id),
      readerOf(asked),
      chosen.map((one) => one.view),
    );
    const known = new Map(stored.map((view) => [view.id, view]));
    const hidden = new Set(chosen.filter((one) => one.hidden).map((one) => one.view));
    const named = chosen.flatMap(({ view }) => known.get(view) ?? []);
    const others = stored.filter((view) => view.home && !chosen.some((one) => one.view === view.id));
    const seen = (view: StoredView): HomeAnswer['views'] => {
      const table = tables.get(view.table);
      const shown = table && viewFor(asked, table, view);
      return shown ? [{ table: view.table, view: shown }] : [];
    };
    const all = [...named, ...others].flatMap(seen);
    return {
      views: all.filter(({ view }) => !hidden.has(view.id)),
      hidden: all
        .filter(({ view }) => hidden.has(view.id) && view.home)
        .map(({ table, view }) => ({ table, view: view.id, label: view.label })),
    };
  };

  route(app, services, routes.getHome, async (call) =>
    answer(call, await homeOf(database, call.caller.login ?? '', call.params.cabinet ?? '')),
  );

  route(app, services, routes.setHome, async (call) => {
    if (call.caller.token) throw new Refusal(403, say('A program has no Home. Sign in as a person.'));
    const views = call.body.views.filter((one, at, all) => all.findIndex((other) => other.view === one.view) === at);
    await keepHome(database, call.caller.login ?? '', call.params.cabinet ?? '', views);
    return answer(call, views);
  });
}
