import { isBlank, type Value } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { type FieldDefinition, findField, type TableDefinition, typeOf } from './table.ts';

/** Text of a title, or a field whose value stands there. */
export type TitlePart = string | FieldDefinition;

/**
 * What names a record, in parts. A table's title is a field (`number`), or a template with fields in braces
 * (`{letter} of {harbour}`); fields that are not there any more are left out. Empty while there is none.
 */
export function titleParts(table: TableDefinition): TitlePart[] {
  if (table.title === null) return [];
  if (!table.title.includes('{')) return [findField(table, table.title) ?? []].flat();
  return table.title.split(/(\{[a-z][a-z0-9_]*\})/).flatMap((part): TitlePart[] => {
    if (part === '') return [];
    if (!part.startsWith('{')) return [part];
    return [findField(table, part.slice(1, -1)) ?? []].flat();
  });
}

/** The fields of a title, in order. */
export const titleFields = (table: TableDefinition): FieldDefinition[] =>
  titleParts(table).filter((part): part is FieldDefinition => typeof part !== 'string');

/** The fields that a title template names, whether they are there or not. */
export const titleNames = (title: string): string[] =>
  title.includes('{') ? [...title.matchAll(/\{([a-z][a-z0-9_]*)\}/g)].map(([, name]) => name ?? '') : [title];

/** What is left of a title for somebody who has only some of the fields that it names: one of them, or those without the text between. */
export function titleWithin(title: string | null, has: (name: string) => boolean): string | null {
  if (title === null) return null;
  const names = titleNames(title);
  const shown = names.filter(has);
  if (shown.length === names.length) return title;
  return shown.length === 0 ? null : shown.map((name) => `{${name}}`).join(' ');
}

/**
 * A record's title in words: `show` gives the text of a linked record. Parts that are blank are left out with the text
 * before them, so that `{letter} of {harbour}` without a harbour is `A`; a bracket is written with its other half or not
 * at all. A record without any part is `(no title)`.
 */
export function writeTitle(
  table: TableDefinition,
  read: (field: FieldDefinition) => Value,
  show: (field: FieldDefinition, value: Value) => string,
): string {
  const brackets = new Brackets();
  let title = '';
  let between = '';
  // Whether the last field had something, so that what closes after it is written.
  let whole = false;
  for (const part of titleParts(table)) {
    if (typeof part === 'string') {
      between += part;
      continue;
    }
    const text = textOf(part, read(part), show);
    whole = text !== '';
    if (whole) {
      const first = title === '' && !(table.title ?? '').startsWith(between);
      title += (first ? '' : brackets.write(between)) + text;
    }
    if (title !== '') between = '';
  }
  if (title === '') return say('(no title)');
  return title + (whole && closes(between) ? brackets.write(between) : '') + brackets.rest();
}

const textOf = (
  field: FieldDefinition,
  value: Value,
  show: (field: FieldDefinition, value: Value) => string,
): string => {
  if (isBlank(value)) return '';
  return typeOf(field).family === 'link' ? show(field, value) : typeOf(field).format(value, field.settings);
};

const closes = (text: string): boolean => /^[)\]»”’“]/.test(text);

const OTHER_HALF: Readonly<Record<string, string>> = { '(': ')', '[': ']', '“': '”', '„': '“' };
const CLOSING = new Set([')', ']', '”']);

/** Writes the texts between fields, of which some are left out, so that each bracket has its other half. */
class Brackets {
  /** What the open brackets are closed by, the last one first. */
  private readonly open: string[] = [];

  /** The text without brackets that close nothing. */
  write(text: string): string {
    return [...text]
      .filter((sign) => {
        if (this.open[0] === sign) this.open.shift();
        else if (CLOSING.has(sign)) return false;
        else if (OTHER_HALF[sign] !== undefined) this.open.unshift(OTHER_HALF[sign]);
        return true;
      })
      .join('');
  }

  /** What closes the brackets that are open still. */
  rest(): string {
    return this.open.splice(0).join('');
  }
}
