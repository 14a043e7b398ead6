import { fieldType } from './registry.ts';

/** A field, or a type that is only named so far; undefined where there is none, which has no trait. */
type Typed = { readonly type: string } | undefined;

/** Points at one record of another table. */
export const linksOne = (field: Typed): boolean => field !== undefined && fieldType(field.type).links === 'one';

/** Points at several records of another table. */
export const linksSeveral = (field: Typed): boolean => field !== undefined && fieldType(field.type).links === 'several';

/** Points at records of another table, one or several. */
export const isLinking = (field: Typed): boolean => field !== undefined && fieldType(field.type).links !== undefined;

/** Takes one word of a list. */
export const takesWord = (field: Typed): boolean => field !== undefined && fieldType(field.type).words === 'one';

/** Takes several words of a list. */
export const takesWords = (field: Typed): boolean => field !== undefined && fieldType(field.type).words === 'several';

/** Takes words of a list, one or several. */
export const isOfWords = (field: Typed): boolean => field !== undefined && fieldType(field.type).words !== undefined;

/** Holds files. */
export const holdsFiles = (field: Typed): boolean => field !== undefined && fieldType(field.type).files === true;

/** Names people of the office by their accounts. */
export const namesPeople = (field: Typed): boolean => field !== undefined && fieldType(field.type).people === true;

/** Holds an address to which a mail is sent. */
export const holdsAddress = (field: Typed): boolean => field !== undefined && fieldType(field.type).mailed === true;

/** Is given a number of its own by the database. */
export const isNumbered = (field: Typed): boolean => field !== undefined && fieldType(field.type).numbered === true;

/** Holds several values at a time: links, words, files. */
export function isSeveral(field: Typed): boolean {
  if (field === undefined) return false;
  const { links, words, files } = fieldType(field.type);
  return links === 'several' || words === 'several' || files === true;
}

/** Holds one value of its own, which can be written beforehand and calculated: no record of another table, no list. */
export const isOneValue = (field: Typed): boolean => field !== undefined && !isSeveral(field) && !isLinking(field);

/** Holds one value that an index keeps: can be compared between records, sorted by, unique, part of a title. */
export const isIndexed = (field: Typed): boolean =>
  field !== undefined && !isSeveral(field) && fieldType(field.type).long !== true;
