import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { defineFieldType } from './fieldType.ts';
import { itemsOf, readItems, writeItems } from './several.ts';
import { type Parsed, parsed, refused } from './value.ts';

const settings = z.strictObject({
  table: z.string().min(1),
  /** The table that holds each link as a pair of records, under foreign keys; made with the field. */
  pairs: z.string().optional(),
  mostCount: z.int().min(1).max(200).optional(),
});

const MOST = 200;

function accept(json: unknown): Parsed {
  if (json === null) return parsed(null);
  const ids = Array.isArray(json) ? [...new Set(json)] : undefined;
  if (!ids?.every((id) => Number.isSafeInteger(id) && id > 0))
    return refused(say('These must be records of the linked table. Choose from the list.'));
  if (ids.length > MOST) return refused(say('At most {most} links fit.', { most: MOST }));
  return parsed(ids.length === 0 ? null : ids);
}

/** Points at several records of a table, in order; shown as their titles wherever it stands. */
export const links = defineFieldType(settings, {
  name: 'links',
  word: sayLater('links (several)'),
  family: 'links',
  group: 'Links',
  links: 'several',
  whenBlank: () => say('Choose one.'),
  editable: true,
  column: () => 'bigint[]',
  parse: (typed) => accept(readItems(typed).map(Number)),
  accept,
  format: (value) => writeItems(itemsOf(value)),
  check: (value, { mostCount }) =>
    mostCount !== undefined && itemsOf(value).length > mostCount
      ? [{ rule: 'most', message: say('Choose at most {most}.', { most: mostCount }) }]
      : [],
});
