import { z } from 'zod';
import { contract } from './contract.ts';
import { empty, nothing } from './shapes.ts';

const moment = z.string();

const backupShape = z.object({
  begunAt: moment,
  /** Null while it runs. */
  endedAt: moment.nullable(),
  kind: z.enum(['base', 'dump']),
  state: z.enum(['running', 'done', 'failed']),
  /** Where it was written, as the command was told. */
  place: z.string(),
  /** In bytes, packed. */
  bytes: z.number().nullable(),
  encrypted: z.boolean(),
  /** When it was last restored and its ledger verified. */
  verifiedAt: moment.nullable(),
  /** What went wrong. */
  message: z.string().nullable(),
});
export type BackupView = z.infer<typeof backupShape>;

const operationAnswer = z.object({
  database: z.object({
    /** Of the whole database, indexes included. */
    bytes: z.number(),
    /** As PostgreSQL says it, such as `15.19`. */
    version: z.string(),
    /** Free space on its disk, in bytes; null where the disk is not this server’s. */
    freeBytes: z.number().nullable(),
  }),
  /** The largest tables of the cabinet, with about how many records they hold; null where the database has not counted yet. */
  tables: z.array(z.object({ table: z.string(), records: z.number().nullable(), bytes: z.number() })),
  /** The ledger’s months, newest first, with about how many lines were written and how large they are. */
  months: z.array(z.object({ month: z.string(), lines: z.number().nullable(), bytes: z.number() })),
  seal: z.object({
    /** When the newest seal was made; null before the first. */
    at: moment.nullable(),
    count: z.number(),
    /** Lines that no seal covers yet. */
    unsealed: z.number(),
  }),
  /** The last backups, newest first. */
  backups: z.array(backupShape),
  /** Work in the background, of the whole office; what failed is that of the last week. */
  tasks: z.object({ open: z.number(), failed: z.number() }),
  /** The last failures of the cabinet’s own work, newest first. */
  failures: z.array(z.object({ at: moment, label: z.string(), message: z.string() })),
  /** Messages of the whole office that wait to be sent, and that could not be. */
  messages: z.object({ waiting: z.number(), failed: z.number() }),
  /** The standbys that are read from: whether each answers, and by how many seconds it is behind. */
  standbys: z.array(z.object({ answers: z.boolean(), behindSeconds: z.number().nullable() })),
});
export type OperationAnswer = z.infer<typeof operationAnswer>;

export const getOperation = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/operation',
  summary: 'How the installation does: size and growth, seals, backups, work in the background, standbys',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: operationAnswer,
});
