import type { Condition, Group } from '@fiche/core/conditions';
import { type TableId, targetTable } from '@fiche/core/tables';
import { useQueries } from '@tanstack/react-query';
import { send } from '../client/index.ts';
import { type Sides, sideAt } from './sides.ts';

/** The titles of the records that the constants of a condition name, by `table id`. */
export function useRecordTitles(sides: Sides, where: Group): ReadonlyMap<string, string> {
  const wanted = new Map<string, { table: TableId; id: number }>();
  const visit = (condition: Condition): void => {
    if (condition.kind === 'group') {
      for (const one of condition.of) visit(one);
      return;
    }
    const table = targetTable(sideAt(sides.left, condition.left, sides.tables)?.field);
    if ('right' in condition && condition.right.kind === 'constant' && table !== undefined)
      wanted.set(`${table} ${condition.right.value}`, { table, id: Number(condition.right.value) });
  };
  visit(where);
  const keys = [...wanted.keys()];
  const answers = useQueries({
    queries: [...wanted.values()].map(({ table, id }) => ({
      queryKey: ['title', table, id],
      queryFn: () => send<{ title: string }>('GET', `/api/tables/${table}/records/${id}`),
      retry: false,
    })),
  });
  return new Map(keys.flatMap((one, at) => (answers[at]?.data ? [[one, answers[at].data.title]] : [])));
}
