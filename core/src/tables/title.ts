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
 * before them, so that `{letter} of {harbour}` without a harbour is `A`; a record without any is `(no title)`.
 */
export function writeTitle(
  table: TableDefinition,
  read: (field: FieldDefinition) => Value,
  show: (field: FieldDefinition, value: Value) => string,
): string {
  let title = '';
  let between = '';
  // Whether the last field had something, so that a bracket after it is closed.
  let whole = false;
  for (const part of titleParts(table)) {
    if (typeof part === 'string') {
      between += part;
      continue;
    }
    const value = read(part);
    const text = isBlank(value)
      ? ''
      : typeOf(part).family === 'link'
        ? show(part, value)
        : typeOf(part).format(value, part.settings);
    if (text !== '') {
      title += (title === '' && !startsTemplate(table, between) ? '' : between) + text;
      between = '';
      whole = true;
    } else {
      if (title !== '') between = '';
      whole = false;
    }
  }
  return title === '' ? say('(no title)') : title + (whole && closes(between) ? between : '');
}

const startsTemplate = (table: TableDefinition, text: string): boolean => (table.title ?? '').startsWith(text);
const closes = (text: string): boolean => /^[)\]»”’]/.test(text);
