import { z } from 'zod';
import { contract } from './contract.ts';
import { empty, nothing } from './shapes.ts';

/** A record that would not be saved as it was: with its field and what would be said, or what its value would be. */
const replayed = z.object({
  record: z.number(),
  title: z.string(),
  /** The label of the field; empty where it is about the whole record. */
  field: z.string(),
  message: z.string(),
});
const replayShape = z.object({
  /** How many records were decided again: the newest that the published version saved. */
  looked: z.number(),
  /** How many of them the draft would refuse, would ask about, and would fill or calculate otherwise. */
  counts: z.object({ refused: z.number(), asked: z.number(), differ: z.number() }),
  /** The first of each. */
  refused: z.array(replayed),
  asked: z.array(replayed),
  differ: z.array(replayed),
});
export type DraftReplay = z.infer<typeof replayShape>;

export const replayDraft = contract({
  method: 'POST',
  path: '/api/forms/{form}/draft/replay',
  summary: 'Decide the last 500 records that the published version saved again under the draft; nothing is written',
  needs: 'build',
  reads: true,
  query: empty,
  body: nothing,
  answer: replayShape,
});
