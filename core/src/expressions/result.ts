import { roundBy, type Value, withArticle } from '../fields/index.ts';
import { say, sayLater } from '../languages/index.ts';
import { type FieldDefinition, typeOf } from '../tables/index.ts';
import type { Result } from './expression.ts';

const WORDS: Record<Result, string> = {
  number: sayLater('a number'),
  text: sayLater('text'),
  yesNo: sayLater('yes or no'),
  list: sayLater('a list'),
};

/** Why what an expression gives cannot be kept in a field, in words; undefined when it can. Anything reads as text. */
export function resultMisfit(result: Result, field: Pick<FieldDefinition, 'type' | 'label'>): string | undefined {
  const type = typeOf(field as FieldDefinition);
  const fits =
    type.family === 'text'
      ? result !== 'list'
      : type.family === 'number'
        ? result === 'number'
        : type.family === 'yesNo'
          ? result === 'yesNo'
          : type.family === 'date' || type.family === 'dateTime' || type.family === 'time'
            ? result === 'text'
            : false;
  return fits
    ? undefined
    : say('{label} is {type}, and this gives {result}.', {
        label: field.label,
        type: withArticle(type),
        result: say(WORDS[result]),
      });
}

/**
 * What an expression gave, as a value of the field: numbers brought to its places, other values to text where text is
 * kept. Blank when the field cannot hold it, such as a date that is none.
 */
export function giveResult(value: Value, field: FieldDefinition): Value {
  if (value === null) return null;
  const type = typeOf(field);
  const brought =
    typeof value === 'number' && type.family === 'number'
      ? (type.round?.(value, field.settings) ?? roundBy(value, 10, 'halfUp'))
      : type.family === 'text' && typeof value !== 'string'
        ? String(value)
        : type.family === 'date' && typeof value === 'string'
          ? value.slice(0, 10)
          : type.family === 'dateTime' && typeof value === 'string' && value.length === 10
            ? `${value}T00:00`
            : value;
  const read = type.accept(brought, field.settings);
  return read.ok ? read.value : null;
}
