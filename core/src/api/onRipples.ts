import { z } from 'zod';
import { EVENT_KINDS, rippleSchema } from '../tables/index.ts';
import { contract } from './contract.ts';
import { empty, nothing } from './shapes.ts';

/** One thing that a ripple would do for a save, as it was tried. */
const triedEffect = z.object({
  does: z.enum(['add', 'change', 'message']),
  /** The table that it writes to, or whom the message is for. */
  to: z.string(),
  values: z.array(z.object({ label: z.string(), value: z.string() })),
});
const triedShape = z.object({
  /** The save that it was tried on: the last one of the record. */
  save: z.object({ title: z.string(), kind: z.enum(EVENT_KINDS), account: z.string(), at: z.string() }),
  /** Whether the ripple follows that save. */
  follows: z.boolean(),
  effects: z.array(triedEffect),
  /** Why it could not be written; null where it could. */
  problem: z.string().nullable(),
});
export type TriedRipple = z.infer<typeof triedShape>;

export const tryRipple = contract({
  method: 'POST',
  path: '/api/tables/{table}/ripple-trial',
  summary: 'What a ripple would write for the last save of a record; nothing is written',
  needs: 'build',
  query: empty,
  body: z.strictObject({ ripple: rippleSchema, record: z.int().min(1) }),
  answer: triedShape,
});

const missedShape = z.object({
  /** How many saves were looked at, since the ripple was last changed. */
  looked: z.number(),
  /** Whether there are more than were looked at. */
  more: z.boolean(),
  since: z.string(),
  saves: z.array(
    z.object({
      record: z.number(),
      title: z.string(),
      at: z.string(),
      account: z.string(),
      through: z.string(),
      transaction: z.number(),
    }),
  ),
});
export type MissedSaves = z.infer<typeof missedShape>;

export const missedByRipple = contract({
  method: 'GET',
  path: '/api/tables/{table}/ripples/{ripple}/missed',
  summary: 'Saves that a ripple should have followed and did not, such as those by direct SQL',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: missedShape,
});
