import { z } from 'zod';
import { contract } from './contract.ts';
import { meant } from './onEntries.ts';
import { empty, nothing } from './shapes.ts';

/** An answer of a public page that looks like spam or needs a choice, and what somebody decided. */
const heldShape = z.object({
  id: z.number(),
  version: z.number(),
  at: z.string(),
  why: z.string(),
  /** What was answered, in the order of the table's fields, as people read it. */
  values: z.array(z.object({ label: z.string(), value: z.string() })),
  /** The lines of its subforms that have some, each line as people read it. */
  lines: z.array(
    z.object({ label: z.string(), lines: z.array(z.array(z.object({ label: z.string(), value: z.string() }))) }),
  ),
  decision: z.enum(['released', 'discarded']).nullable(),
  decidedBy: z.string().nullable(),
  decidedAt: z.string().nullable(),
  reason: z.string().nullable(),
});
export type HeldAnswer = z.infer<typeof heldShape>;

export const listHeld = contract({
  method: 'GET',
  path: '/api/forms/{form}/held',
  summary: 'Answers of a public page that are held as spam, and what was decided of the last ones',
  needs: 'change',
  query: empty,
  body: nothing,
  answer: z.object({ answers: z.array(heldShape) }),
});
export const decideHeld = contract({
  method: 'POST',
  path: '/api/forms/{form}/held/{id}',
  summary: 'Release a held answer, which saves it as its sender would have, or discard it',
  needs: 'change',
  query: empty,
  body: z.strictObject({
    decision: z.enum(['release', 'discard']),
    reason: z.string().trim().min(1).max(500),
    /** With `release`: which of several records with the key of a destination is meant. */
    meant,
  }),
  answer: z.object({ reference: z.string().nullable() }),
});
