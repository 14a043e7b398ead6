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
