import { z } from 'zod';
import { sayLater } from '../languages/index.ts';
import { defineFieldType } from './fieldType.ts';
import { acceptText } from './text.ts';

const settings = z.strictObject({
  prefix: z
    .string()
    .max(20)
    .regex(/^[A-Za-z0-9/_-]*$/, sayLater('A prefix has letters, digits, - / and _ only'))
    .default(''),
  /** The year after the prefix; counting begins anew each year. */
  withYear: z.boolean().default(false),
  width: z.int().min(1).max(12).default(5),
  first: z.int().min(0).max(999_999_999).default(1),
});

/** `STAY-2026-00001`: given by the database on save, never reused, never editable. */
export const sequence = defineFieldType(settings, {
  name: 'sequence',
  word: sayLater('sequence number'),
  family: 'text',
  group: 'Other',
  numbered: true,
  starting: () => ({ prefix: '', withYear: true }),
  editable: false,
  column: () => 'text',
  parse: (typed) => acceptText(typed, 100),
  accept: (json) => acceptText(json, 100),
  format: String,
  check: () => [],
});
