import { convert, isConvertible, linksOne, plainText, type Settings, takesWord, type Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { quoted, relation } from '@fiche/core/queries';
import { type FieldDefinition, findField, linkedTable, type TableId, type Tables, typeOf } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { unacceptable } from '../http/index.ts';

/** The type that a field is to get; a link says by which column of its table the values are matched. */
export interface NewType {
  readonly type: string;
  readonly settings: Settings;
  readonly matchOn?: string;
}

type Converted = ReturnType<typeof convert>;

/** What each of some values becomes as another type, or why it does not. */
export type Converter = (
  database: Database | Transaction,
  values: readonly Value[],
) => Promise<(value: Value) => Converted>;

/** Whether the values of an existing column can become a type: links and levels of option lists by looking them up. */
export const isReachable = (type: string): boolean => isConvertible(type) || linksOne({ type });

/** Makes the converter of a field’s values: read as if they were typed, matched with records, or held to an option list. */
export function converterTo(all: Tables, field: FieldDefinition, to: NewType): Converter {
  if (linksOne(to)) return linkConverter(all, field, to);
  const level = to.settings.level as { readonly table: TableId; readonly column: string } | undefined;
  if (takesWord(to) && level) return levelConverter(all, field, to, level);
  return async () => (value) => convert(value, field, to);
}

/** Matches values with the records of the target table: exactly one in use has to carry the value in the column. */
function linkConverter(all: Tables, field: FieldDefinition, { settings, matchOn }: NewType): Converter {
  const target = all.get(String(settings.table));
  const column = findField(target, matchOn ?? '');
  if (!target || !column || linkedTable(column) !== undefined || typeof typeOf(column).column({}) !== 'string')
    throw unacceptable([
      {
        path: 'matchOn',
        rule: 'column',
        message: say('Choose the column of the other table that the values are matched with.'),
      },
    ]);
  const isText = typeOf(column).family === 'text';
  return async (database, values) => {
    const texts = [...new Set(values.flatMap((value) => (value === null ? [] : [plainText(value, field)])))];
    const keys = texts.flatMap((text): [string, string][] => {
      const read = typeOf(column).parse(text, column.settings);
      return read.ok && read.value !== null ? [[text, String(read.value)]] : [];
    });
    const { rows } = await database.raw<{ rows: { name: string; id: number; n: number }[] }>(
      `SELECT given.name, min(t.id) AS id, count(*) AS n FROM unnest(?::text[]) AS given(name)
         JOIN ${relation(target.id)} t ON ${isText ? `lower(t.${quoted(column.id)}) = lower(given.name)` : `t.${quoted(column.id)}::text = given.name`}
       WHERE t.archived_at IS NULL GROUP BY 1`,
      [keys.map(([, key]) => key)] as unknown as string[],
    );
    const found = new Map(rows.map((row) => [row.name, row]));
    const keyOf = new Map(keys);
    return (value) => {
      if (value === null) return { ok: true, value: null };
      const text = plainText(value, field);
      const record = found.get(keyOf.get(text) ?? '');
      if (record?.n === 1) return { ok: true, value: record.id };
      return {
        ok: false,
        message: record
          ? say('{n} records of {label} have the {other} “{text}”.', {
              n: formatCount(record.n),
              label: target.label,
              other: column.label,
              text,
            })
          : say('No record of {label} in use has the {other} “{text}”.', {
              label: target.label,
              other: column.label,
              text,
            }),
      };
    };
  };
}

/** Takes words that the level of the option list has, in any case; others do not convert. */
function levelConverter(
  all: Tables,
  field: FieldDefinition,
  to: NewType,
  level: { readonly table: TableId; readonly column: string },
): Converter {
  const list = all.get(level.table);
  return async (database, values) => {
    const texts = [...new Set(values.flatMap((value) => (value === null ? [] : [plainText(value, field)])))];
    const { rows } = await database.raw<{ rows: { given: string; word: string }[] }>(
      `SELECT DISTINCT ON (given.word) given.word AS given, t.${quoted(level.column)} AS word FROM unnest(?::text[]) AS given(word)
         JOIN ${relation(level.table)} t ON lower(t.${quoted(level.column)}) = lower(given.word)
       WHERE t.archived_at IS NULL ORDER BY given.word, t.${quoted(level.column)} = given.word DESC`,
      [texts] as unknown as string[],
    );
    const words = new Map(rows.map((row) => [row.given, row.word]));
    return (value) => {
      if (value === null) return { ok: true, value: null };
      const text = plainText(value, field);
      const word = words.get(text);
      return word === undefined
        ? {
            ok: false,
            message: say('“{text}” is not in {label}, level {other}.', {
              text,
              label: list?.label ?? 'the list',
              other: findField(list, level.column)?.label ?? level.column,
            }),
          }
        : convert(word, { type: 'text', settings: {} }, to);
    };
  };
}
