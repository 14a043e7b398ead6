import { z } from 'zod';
import { duplicatesSchema, mergeSchema } from '../merging/index.ts';
import { contract } from './contract.ts';
import { recordFilter } from './onRecords.ts';
import { useShape } from './onUses.ts';
import { empty, fieldChangeShape, recordShape } from './shapes.ts';

const found = z.object({
  /** Groups of records that are alike, those with the lowest numbers first. */
  groups: z.array(z.object({ records: z.array(z.object({ id: z.number(), title: z.string() })) })),
  /** How many groups there are; more than are listed where there are very many. */
  total: z.number(),
  /** There are more records that are alike than are looked through. */
  more: z.boolean(),
});
export type DuplicatesFound = z.infer<typeof found>;

export const findDuplicates = contract({
  method: 'POST',
  path: '/api/tables/{table}/duplicates',
  summary: 'Records in use that are alike in some fields',
  needs: 'see',
  reads: true,
  query: empty,
  body: duplicatesSchema.extend({ search: recordFilter.search }),
  answer: found,
});

export const compareRecords = contract({
  method: 'POST',
  path: '/api/tables/{table}/compare',
  summary: 'Some records side by side, with how many records link to each',
  needs: 'see',
  reads: true,
  query: empty,
  body: z.strictObject({ records: z.array(z.int().min(1)).min(1).max(20) }),
  answer: z.object({ records: z.array(recordShape.extend({ linking: z.number() })) }),
});
export type ComparedRecord = z.infer<typeof compareRecords.answer>['records'][number];

const merged = z.object({
  written: z.boolean(),
  /** The number of the save, by which it can be put back as one; null where nothing was written. */
  transaction: z.number().nullable(),
  /** What changes in the record that stays. */
  changes: z.array(fieldChangeShape),
  /** What comes to point at the record that stays: the field of each table, and how many of its records. */
  moved: z.array(z.object({ table: z.string(), what: z.string(), field: z.string(), count: z.number() })),
  /** Definitions that name a record which is archived then, for whoever builds: a merge does not change them. */
  uses: z.array(useShape),
  /** Why it cannot be written; empty where it can. */
  problems: z.array(z.object({ what: z.string(), record: z.number(), title: z.string(), message: z.string() })),
});
export type MergeAnswer = z.infer<typeof merged>;

export const mergeRecords = contract({
  method: 'POST',
  path: '/api/tables/{table}/merges',
  summary: 'Make one record of several: what links to the others points to the one that stays, the others are archived',
  needs: 'change',
  query: empty,
  body: z.strictObject({
    /** `look` does the same and takes it back. */
    do: z.enum(['look', 'write']),
    plan: mergeSchema,
  }),
  answer: merged,
});
