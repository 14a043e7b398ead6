import { z } from 'zod';
import { changePlanSchema } from '../changes/index.ts';
import { contract } from './contract.ts';
import { empty, fieldChangeShape, nothing, taskShape } from './shapes.ts';

const countsShape = z.object({ found: z.number(), change: z.number(), same: z.number(), refused: z.number() });
/** A change of many, and the work that checks it. */
const begun = z.object({ id: z.number(), task: taskShape });
const reasons = changePlanSchema.shape.reasons;

const changeShape = z.object({
  id: z.number(),
  state: z.enum(['planned', 'checked', 'written']),
  /** What is done, in words: `Waived becomes yes`. */
  words: z.string(),
  /** How many records were found, and what becomes of them; null until they are checked. */
  counts: countsShape.nullable(),
  /** The first records that change, field by field. */
  changed: z.array(z.object({ record: z.number(), title: z.string(), changes: z.array(fieldChangeShape) })),
  /** The first records that cannot be changed, each with what stands against it. */
  refused: z.array(
    z.object({
      record: z.number(),
      title: z.string(),
      problems: z.array(z.object({ field: z.string(), message: z.string() })),
    }),
  ),
  /** What stands against records and how often, the most frequent first. */
  reasons: z.array(z.object({ message: z.string(), count: z.number() })),
  /** Rules that ask: a reason to each lets its records through. */
  asked: z.array(z.object({ rule: z.string(), message: z.string(), count: z.number() })),
});
export type ChangeView = z.infer<typeof changeShape>;

export const planChange = contract({
  method: 'POST',
  path: '/api/tables/{table}/changes',
  summary: 'Plan a change of many records, and check it; nothing is written',
  needs: 'see',
  query: empty,
  body: changePlanSchema,
  answer: begun,
});
export const readChange = contract({
  method: 'GET',
  path: '/api/tables/{table}/changes/{change}',
  summary: 'What a change of many would do, or has done',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: changeShape,
});
export const runChange = contract({
  method: 'POST',
  path: '/api/tables/{table}/changes/{change}/run',
  summary: 'Write the records that were checked: all or nothing, or the good ones only',
  needs: 'see',
  query: empty,
  body: z.strictObject({ records: z.enum(['all', 'good']) }),
  answer: taskShape,
});
export const putBackPart = contract({
  method: 'POST',
  path: '/api/tables/{table}/saves/{transaction}/put-back',
  summary:
    'Plan to put back what a large save, such as an import, added to a table or changed there, and check it; what others changed since is spared',
  needs: 'see',
  query: empty,
  body: z.strictObject({
    reasons,
    part: z.enum(['added', 'changed']),
    /** The moment of its lines: of saves that were written in one transaction, the one of that moment. */
    at: z.iso.datetime({ offset: true }).optional(),
  }),
  answer: begun,
});
export const putBackChange = contract({
  method: 'POST',
  path: '/api/tables/{table}/changes/{change}/put-back',
  summary: 'Plan to put back a change that was written, and check it; what others changed since is spared',
  needs: 'see',
  query: empty,
  body: z.strictObject({ reasons }),
  answer: begun,
});
