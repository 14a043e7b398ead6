import { z } from 'zod';
import { contract } from './contract.ts';
import { empty, idSchema, lineShape, nothing, receiptShape, taskShape } from './shapes.ts';

export const verifyLedger = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/verifications',
  summary: 'Hold the whole ledger against its chains, its seals and the records; the outcome of the task is a verdict',
  needs: 'ledger',
  query: empty,
  body: z.strictObject({
    seal: z
      .string()
      .regex(/^[0-9a-fA-F]{64}$/, 'A seal has 64 hexadecimal digits.')
      .optional(),
  }),
  answer: taskShape,
});

export const newestReceipt = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/ledger/receipt',
  summary: 'A signed receipt for the newest seal: kept elsewhere, it shows later whether the ledger was rewritten',
  needs: 'ledger',
  query: empty,
  body: nothing,
  answer: receiptShape,
});
export const exportLedger = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/ledger/export',
  summary:
    'The whole ledger as JSON Lines, to be verified without a server: lines of other cabinets by their hash only',
  needs: 'ledger',
  query: empty,
  body: nothing,
  answer: z.unknown(),
});

/** Which lines of a ledger are wanted. */
const ledgerFilter = {
  account: z.string().max(200).optional(),
  table: idSchema.optional(),
  kind: z.enum(['add', 'change', 'archive', 'restore', 'erase']).optional(),
  /** A field’s id: only lines in which it changed. */
  field: idSchema.optional(),
  /** With a table: the number of one of its records. */
  record: z.coerce.number().int().min(1).optional(),
  /** A text that stands in a value before or after. */
  value: z.string().trim().min(1).max(200).optional(),
  /** The form that it came through, or its public page. */
  form: idSchema.optional(),
  /** The time of day in the office: by day is from 6 to 22 o’clock. */
  hours: z.enum(['day', 'night', 'weekend']).optional(),
  /** Only what a rule asked about, and a reason let through. */
  asked: z.literal('yes').optional(),
  from: z.iso.date().optional(),
  to: z.iso.date().optional(),
  /** The records of one import. */
  import: z.coerce.number().int().min(1).optional(),
  /** The records of one change of many. */
  change: z.coerce.number().int().min(1).optional(),
};
const lines = z.object({ lines: z.array(lineShape), before: z.number().nullable() });
export const readLedger = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/ledger',
  summary: 'All lines of a cabinet, newest first',
  needs: 'ledger',
  query: z.object({
    ...ledgerFilter,
    before: z.coerce.number().int().optional(),
    limit: z.coerce.number().int().min(1).max(200).default(80),
  }),
  body: nothing,
  answer: lines,
});

export const exportLines = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/ledger/lines',
  summary: 'The lines of a cabinet that a filter finds as CSV, a row for each field that changed, or as JSON Lines',
  needs: 'ledger',
  query: z.object({ ...ledgerFilter, as: z.enum(['csv', 'jsonl']).default('csv') }),
  body: nothing,
  answer: z.unknown(),
});

const overviewShape = z.object({
  /** The days that were looked at, both included. */
  from: z.string(),
  to: z.string(),
  /** Saves of each account in each hour, day or week, by its beginning in civil time: `2026-08-17T00:00`. */
  step: z.enum(['hour', 'day', 'week']),
  counts: z.array(z.object({ begin: z.string(), account: z.string(), count: z.number() })),
  /** What stands out: saves of one account on one day, or in the ten minutes that began at a moment. */
  unusual: z.array(
    z.object({
      kind: z.enum(['burst', 'night', 'erased', 'asked', 'direct']),
      account: z.string(),
      day: z.string(),
      at: z.string().nullable(),
      count: z.number(),
    }),
  ),
});
export type LedgerOverview = z.infer<typeof overviewShape>;

export const ledgerOverview = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/ledger/overview',
  summary: 'The changes of a cabinet by time and person, and those that stand out',
  needs: 'ledger',
  query: z.object(ledgerFilter),
  body: nothing,
  answer: overviewShape,
});

const receiptMailShape = z.object({
  /** Where a receipt is sent each day; null for nowhere. */
  address: z.string().nullable(),
});
export const readReceiptMail = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/ledger/receipt-mail',
  summary: 'Where a receipt for the newest seal is sent each day',
  needs: 'ledger',
  query: empty,
  body: nothing,
  answer: receiptMailShape,
});
export const setReceiptMail = contract({
  method: 'PUT',
  path: '/api/cabinets/{cabinet}/ledger/receipt-mail',
  summary: 'Send a receipt for the newest seal to an address each day, or to none',
  needs: 'ledger',
  query: empty,
  body: z.strictObject({
    address: z.email('This is not an e-mail address such as auditor@harbour.example.').max(200).nullable(),
  }),
  answer: receiptMailShape,
});
