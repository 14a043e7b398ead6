import { z } from 'zod';
import { contract } from './contract.ts';
import { empty, fieldChangeShape, nothing, tableShape } from './shapes.ts';

/** A moment of the past: civil time of the office (`2026-08-17T15:30`), or with a zone, as lines of history have it; `now`. */
export const momentInAddress = z.string().min(1).max(40);

/** A field of then in words; `numeric` is a number, which stands to the right in a table. */
const shownValue = z.object({ field: z.string(), label: z.string(), value: z.string(), numeric: z.boolean() });
const pastRecord = z.object({
  /** The table as it was called then. */
  table: z.string(),
  title: z.string(),
  version: z.number(),
  archived: z.boolean(),
  created: z.object({ at: z.string(), by: z.string() }),
  changed: z.object({ at: z.string(), by: z.string() }),
  /** Every field of then in words, blank ones too. */
  values: z.array(shownValue),
  /** What the reference cards of its links showed then, by the label of the link. */
  cards: z.array(z.object({ label: z.string(), title: z.string(), values: z.array(shownValue) })),
  /** The lines of the form that it was asked for, those in use then. */
  lines: z.array(
    z.object({
      table: z.string(),
      label: z.string(),
      rows: z.array(z.object({ record: z.number(), values: z.array(shownValue) })),
    }),
  ),
});
export type PastRecord = z.infer<typeof pastRecord>;

export const recordAsOf = contract({
  method: 'GET',
  path: '/api/tables/{table}/records/{id}/as-of',
  summary: 'A record as it stood at a moment, with its reference cards and lines of then, in words',
  needs: 'see',
  query: z.object({ at: momentInAddress.default('now'), form: z.string().max(60).optional() }),
  body: nothing,
  answer: z.object({
    /** Null where it was not there yet. */
    record: pastRecord.nullable(),
    /** When it was added. */
    since: z.string(),
  }),
});

export const tablesAsOf = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/as-of',
  summary:
    'How the tables of a cabinet were defined at a moment: those that were there, with the fields of then that the caller sees today',
  needs: 'see',
  query: z.object({ at: momentInAddress.default('now') }),
  body: nothing,
  answer: z.object({ tables: z.array(tableShape) }),
});

const putBackRecord = z.object({
  table: z.string(),
  record: z.number(),
  /** What its table is called, and the record. */
  what: z.string(),
  title: z.string(),
  becomes: z.enum(['changed', 'archived', 'restored', 'same']),
  changes: z.array(fieldChangeShape),
  /** Why it stays as it is; null where it is put back. */
  problem: z.string().nullable(),
});
const putBackAnswer = z.object({
  written: z.boolean(),
  /**
   * Of a save of too many records to be put back at once: what it added and changed of each table that the caller sees; each is put
   * back by itself. Null otherwise.
   */
  parts: z.array(z.object({ table: z.string(), added: z.number(), changed: z.number() })).nullable(),
  counts: z.object({ back: z.number(), same: z.number(), stay: z.number(), unseen: z.number() }),
  /** The first of them: those that stay before those that are put back. */
  records: z.array(putBackRecord),
});
export type PutBackAnswer = z.infer<typeof putBackAnswer>;

export const putBackSave = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/saves/{transaction}/put-back',
  summary: 'Put a save back: every record that it wrote, with its lines, what ripples wrote and all of an import',
  needs: 'see',
  query: empty,
  body: z.strictObject({
    /** `look` writes nothing; `all` writes only where every record can be put back, `possible` those that can. */
    do: z.enum(['look', 'all', 'possible']),
    /** The moment of its lines: of saves that were written in one transaction, as the sample data is, the one of that moment. */
    at: z.string().max(40).optional(),
  }),
  answer: putBackAnswer,
});
