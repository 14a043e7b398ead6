import { formFields } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { certainPairs, sourceOf } from '../narrowing/index.ts';
import { findField, type TableDefinition, type TableId } from '../tables/index.ts';
import { type Check, called, type Examined, type Finding } from './finding.ts';

/**
 * Two branches may hold the same word: a level narrowed by its parent only would mix them. Finds levels of an option
 * list whose upper levels are not on the form, and hand-made conditions on a level that forget one above it.
 */
export const forgottenAncestor: Check = (examined) => [...missingLevels(examined), ...forgottenConditions(examined)];

interface Level {
  readonly list: TableDefinition;
  readonly column: string;
}

function levelOf({ tables, table }: Examined, id: string): Level | undefined {
  const field = findField(table, id);
  const source = field && sourceOf(field);
  const list = source?.column === undefined ? undefined : tables.get(source.table);
  return list && source?.column !== undefined ? { list, column: source.column } : undefined;
}

const above = ({ list, column }: Level): string[] => {
  const ids = list.fields.map((field) => field.id);
  return ids.slice(0, Math.max(0, ids.indexOf(column)));
};

function missingLevels(examined: Examined): Finding[] {
  const placed = formFields(examined.definition).map((one) => one.field);
  const levels = placed.flatMap((id) => levelOf(examined, id) ?? []);
  return placed.flatMap((id) => {
    const level = levelOf(examined, id);
    if (!level) return [];
    const missing = above(level).filter(
      (column) => !levels.some((one) => one.list.id === level.list.id && one.column === column),
    );
    return missing.map((column) => ({
      rule: 'ancestor',
      weight: 'look' as const,
      path: id,
      message: say('{examined} is a level below {label} of {other}, which is not on the form.', {
        examined: called(examined, id),
        label: findField(level.list, column)?.label ?? '',
        other: level.list.label,
      }),
      why: say('The same word may stand under several branches; without the level above they are mixed.'),
    }));
  });
}

function forgottenConditions(examined: Examined): Finding[] {
  const { definition, tables, table } = examined;
  const placed = formFields(definition);
  return placed.flatMap((one) => {
    const field = findField(table, one.field);
    const source = field && sourceOf(field);
    const choices = tables.get(source?.table ?? '');
    if (!source || !choices || !one.narrowing || source.column !== undefined) return [];
    const pairs = certainPairs(one.narrowing.where);
    const parents = new Set(pairs.map((pair) => pair.parent));
    return pairs.flatMap(({ parent }) => {
      const level = levelOf(examined, parent);
      if (!level) return [];
      return placed.flatMap((other): Finding[] => {
        const upper = levelOf(examined, other.field);
        const isAbove = upper?.list.id === level.list.id && above(level).includes(upper.column);
        const holds = choices.fields.some((column) => {
          const own = column.settings.level as { table: TableId; column: string } | undefined;
          return own?.table === upper?.list.id && own?.column === upper?.column;
        });
        if (!isAbove || !holds || parents.has(other.field)) return [];
        return [
          {
            rule: 'ancestor',
            weight: 'must',
            path: one.field,
            message: say('{examined} is narrowed by {above}, but not by {further} above it. Add that condition.', {
              examined: called(examined, one.field),
              above: called(examined, parent),
              further: called(examined, other.field),
            }),
            why: say('The same {examined} may stand under several {above}; the branches would be mixed.', {
              examined: called(examined, parent),
              above: called(examined, other.field),
            }),
          },
        ];
      });
    });
  });
}
