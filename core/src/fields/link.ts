import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { defineFieldType } from './fieldType.ts';
import { type Parsed, parsed, refused } from './value.ts';

const settings = z.strictObject({
  table: z.string().min(1),
  /** In a link to its own table: whether records may stand above one another in a circle. */
  circles: z.boolean().optional(),
});

function accept(json: unknown): Parsed {
  if (json === null) return parsed(null);
  return typeof json === 'number' && Number.isSafeInteger(json) && json > 0
    ? parsed(json)
    : refused(say('This must be a record of the linked table. Choose one of the list.'));
}

/** Points at one record of a table; its value is that record's id, shown as the record's title wherever it stands. */
export const link = defineFieldType(settings, {
  name: 'link',
  word: sayLater('link'),
  family: 'link',
  group: 'Links',
  links: 'one',
  whenBlank: () => say('Choose one.'),
  editable: true,
  column: () => 'bigint',
  parse: (typed) => (typed.trim() === '' ? parsed(null) : accept(Number(typed))),
  accept,
  format: String,
  check: () => [],
});
