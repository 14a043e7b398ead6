import type { Condition } from '../conditions/index.ts';
import { say } from '../languages/index.ts';
import { sourceOf } from '../narrowing/index.ts';
import { findField, type TableId } from '../tables/index.ts';
import { choiceFieldOf, type PlacedCondition, placedConditions } from './comparisons.ts';
import type { Examined, Finding } from './finding.ts';

/** A word that a condition compares with a level of an option list; whether the list has it, only its records can tell. */
export interface LevelWord {
  /** The option list, and its level. */
  readonly table: TableId;
  readonly column: string;
  readonly word: string;
  /** What is found when the list does not have the word. */
  readonly finding: Finding;
}

/** Every such word of a form’s conditions, its lines left out. */
export const levelWordsOf = (examined: Examined): LevelWord[] =>
  placedConditions(examined).flatMap((placed) => wordsIn(examined, placed, placed.condition));

function wordsIn(examined: Examined, placed: PlacedCondition, condition: Condition): LevelWord[] {
  if (condition.kind === 'group') return condition.of.flatMap((one) => wordsIn(examined, placed, one));
  if (!('right' in condition) || condition.right.kind !== 'constant') return [];
  const { value } = condition.right;
  const field = choiceFieldOf(placed.naming, condition.left);
  const { table, column } = (field && sourceOf(field)) ?? {};
  if (!field || table === undefined || column === undefined || typeof value !== 'string') return [];
  const list = examined.tables.get(table);
  const level = findField(list, column)?.label ?? column;
  const finding = placed.finding(
    say('a comparison that cannot hold: “{value}” is not in the option list {label} › {level}.', {
      value,
      label: list?.label ?? table,
      level,
    }),
  );
  return [{ table, column, word: value, finding: { ...finding, weight: 'look' } }];
}
