import { z } from 'zod';
import { NOTICE_KINDS } from '../messages/index.ts';
import { contract } from './contract.ts';
import { empty, nothing } from './shapes.ts';

const noticeShape = z.object({
  id: z.number(),
  kind: z.enum(NOTICE_KINDS),
  cabinet: z.string(),
  /** The account that did it. */
  by: z.string(),
  at: z.string(),
  times: z.number(),
  seen: z.boolean(),
  /** The table that it is about, by id and label; null for a task that has none. */
  table: z.object({ id: z.string(), label: z.string() }).nullable(),
  record: z.number().nullable(),
  title: z.string().nullable(),
  view: z.object({ id: z.number(), label: z.string() }).nullable(),
  /** The form whose public page was answered. */
  form: z.object({ id: z.string(), label: z.string() }).nullable(),
  task: z.object({ id: z.number(), label: z.string(), state: z.string(), message: z.string().nullable() }).nullable(),
});
export type NoticeView = z.infer<typeof noticeShape>;

export const listNotices = contract({
  method: 'GET',
  path: '/api/account/notices',
  summary: 'One’s inbox: records assigned to one, changes of records that one watches, ends of one’s long work',
  needs: 'account',
  query: z.object({ before: z.coerce.number().int().min(1).optional() }),
  body: nothing,
  answer: z.object({
    notices: z.array(noticeShape),
    /** The notice to ask older ones before; null at the end. */
    before: z.number().nullable(),
    /** How many are not seen yet: at most 100 are counted. */
    unseen: z.number(),
  }),
});
export type Inbox = z.infer<typeof listNotices.answer>;

export const seeNotices = contract({
  method: 'POST',
  path: '/api/account/notices/seen',
  summary: 'Mark notices of one’s inbox as seen',
  needs: 'account',
  query: empty,
  body: z.strictObject({ notices: z.union([z.literal('all'), z.array(z.int().min(1)).min(1).max(200)]) }),
  answer: empty,
});

const watchShape = z.object({
  cabinet: z.string(),
  table: z.object({ id: z.string(), label: z.string() }),
  /** The record that is watched, the view or the form; the others are null. */
  record: z.number().nullable(),
  view: z.number().nullable(),
  form: z.string().nullable(),
  title: z.string(),
  since: z.string(),
});
export const listWatches = contract({
  method: 'GET',
  path: '/api/account/watches',
  summary: 'The records, views and forms that one watches, newest first',
  needs: 'account',
  query: empty,
  body: nothing,
  answer: z.object({ watches: z.array(watchShape) }),
});
export type WatchView = z.infer<typeof watchShape>;

export const watchRecord = contract({
  method: 'PUT',
  path: '/api/tables/{table}/records/{id}/watch',
  summary: 'Watch a record: its changes come into one’s inbox',
  needs: 'see',
  query: empty,
  body: empty,
  answer: empty,
});
export const unwatchRecord = contract({
  method: 'DELETE',
  path: '/api/tables/{table}/records/{id}/watch',
  summary: 'Stop watching a record',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: empty,
});

export const watchForm = contract({
  method: 'PUT',
  path: '/api/forms/{form}/watch',
  summary: 'Watch a form: answers of its public page come into one’s inbox',
  needs: 'change',
  query: empty,
  body: empty,
  answer: empty,
});
export const unwatchForm = contract({
  method: 'DELETE',
  path: '/api/forms/{form}/watch',
  summary: 'Stop watching a form',
  needs: 'change',
  query: empty,
  body: nothing,
  answer: empty,
});
export const watchView = contract({
  method: 'PUT',
  path: '/api/tables/{table}/views/{view}/watch',
  summary: 'Watch a view: records that others add to it or change in it come into one’s inbox',
  needs: 'see',
  query: empty,
  body: empty,
  answer: empty,
});
export const unwatchView = contract({
  method: 'DELETE',
  path: '/api/tables/{table}/views/{view}/watch',
  summary: 'Stop watching a view',
  needs: 'see',
  query: empty,
  body: nothing,
  answer: empty,
});

export const MESSAGE_STATES = ['kept', 'waiting', 'sent', 'failed'] as const;
const messageShape = z.object({
  id: z.number(),
  at: z.string(),
  kind: z.enum(['invitation', 'reset', 'notices', 'confirmation', 'personalLink', 'ripple', 'receipt']),
  login: z.string().nullable(),
  address: z.string(),
  /** Null, like the body, where it speaks of records and the caller’s role does not see everything. */
  subject: z.string().nullable(),
  body: z.string().nullable(),
  state: z.enum(MESSAGE_STATES),
  tries: z.number(),
  /** The moment of the next try, of one that waits. */
  nextAt: z.string().nullable(),
  sentAt: z.string().nullable(),
  /** Why the last try failed, in words. */
  problem: z.string().nullable(),
});
export type MessageView = z.infer<typeof messageShape>;

export const listMessages = contract({
  method: 'GET',
  path: '/api/cabinets/{cabinet}/messages',
  summary: 'The outbox of a cabinet, newest first: what was sent, what waits, and what failed and why',
  needs: 'outbox',
  query: z.object({
    before: z.coerce.number().int().min(1).optional(),
    state: z.enum(MESSAGE_STATES).optional(),
  }),
  body: nothing,
  answer: z.object({
    messages: z.array(messageShape),
    before: z.number().nullable(),
    /** Whether a mail server is set up. */
    sends: z.boolean(),
  }),
});
export type Outbox = z.infer<typeof listMessages.answer>;

export const retryMessage = contract({
  method: 'POST',
  path: '/api/cabinets/{cabinet}/messages/{message}/retry',
  summary: 'Send a message that failed, or that was kept without being sent',
  needs: 'outbox',
  query: empty,
  body: empty,
  answer: empty,
});
