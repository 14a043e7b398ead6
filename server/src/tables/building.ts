import type { TaskView } from '@fiche/core/api';
import { say, sayLater } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import type { Caller } from '../access/index.ts';
import { type Actor, asActor, type Transaction } from '../database/index.ts';
import { loadTable } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';

/** What the routes that change tables work with. */
export interface Building {
  /** Runs a change as the owner, in a transaction, in the name of the caller. */
  build<T>(caller: Caller, work: (owner: Transaction) => Promise<T>): Promise<T>;
  /** The table as it is now; 404 where there is none. */
  current(id: string): Promise<TableDefinition>;
  /** Begins work on a table's structure; quick work that was refused is a refusal of the request. */
  begin(
    table: TableDefinition,
    caller: Caller,
    kind: string,
    label: string,
    plan: object,
  ): Promise<{ table: TableDefinition; task: TaskView | null }>;
}

export function buildingWith({ databases, tasks }: Services): Building {
  const actorOf = (caller: Caller): Actor => ({
    name: caller.login ?? '',
    through: { kind: 'tables', label: sayLater('Tables') },
  });
  const current = async (id: string): Promise<TableDefinition> => {
    const table = await loadTable(databases.owner, id);
    if (!table) throw notFound(say('This table'));
    return table;
  };
  return {
    build: (caller, work) => asActor(databases.owner, actorOf(caller), work),
    current,
    async begin(table, caller, kind, label, plan) {
      const account = caller.login ?? '';
      const task = await tasks.begin({ cabinet: table.cabinet, table: table.id, kind, label, plan, account });
      if (task.state === 'failed') throw asRefusal(task);
      return { table: await current(table.id), task: task.state === 'done' ? null : task };
    },
  };
}

/** Refuses a change that was made to an earlier state of a table. */
export function checkRevision(table: TableDefinition, revision: number | undefined): void {
  if (revision !== undefined && revision !== table.revision)
    throw new Refusal(
      409,
      say(
        'Somebody else has changed this table meanwhile. It is shown as it is now: look, then make your change again.',
      ),
    );
}

const asRefusal = (task: TaskView): Refusal =>
  new Refusal(422, task.message ?? say('This could not be done.'), (task.outcome?.errors as []) ?? []);
