import { z } from 'zod';
import { officeSchema } from '../officeSettings/index.ts';
import { PAGE_STYLES } from '../pages/index.ts';
import { contract } from './contract.ts';
import { empty, nothing, recordShape, runningForm, sentValues } from './shapes.ts';

/** What a page shows whether or not it can be filled. */
const frame = z.object({
  label: z.string(),
  cabinet: z.string(),
  office: officeSchema,
  style: z.enum(PAGE_STYLES).nullable(),
  /** The language that it is in, and all that it can be read in, as BCP 47 tags. */
  language: z.string(),
  languages: z.array(z.string()),
});

/** A page that cannot be filled by whoever asks: why, and in which words. */
const unavailablePage = frame.extend({
  unavailable: z.enum([
    'before',
    'closed',
    'full',
    'code',
    'wrongCode',
    'link',
    'used',
    'withdrawn',
    'late',
    'receipt',
  ]),
  words: z.string(),
});
export type UnavailablePage = z.infer<typeof unavailablePage>;

const openPage = frame.extend({
  ...runningForm.shape,
  /** Words of choices in its language, by the word that is kept. */
  choiceWords: z.record(z.string(), z.string()),
  /** Leading zero bits that SHA-256 of `begun:work` has, for the `work` that is sent with an answer. */
  workBits: z.number(),
  /** The values of a personal link, which cannot be changed. */
  given: z
    .object({
      values: sentValues,
      linked: z.record(z.string(), z.object({ title: z.string(), facts: z.record(z.string(), z.unknown()) })),
    })
    .optional(),
  /** Where a receipt is shown: the answer as it is now, to be corrected. */
  received: z.object({ reference: z.string(), record: recordShape }).optional(),
});
export type OpenPage = z.infer<typeof openPage>;

/**
 * Headers: `x-fiche-code` (a code, percent-encoded), `x-fiche-link` (the token of a personal link), `x-fiche-receipt` (the
 * token with which a respondent comes back).
 */
export const readPage = contract({
  method: 'GET',
  path: '/api/public/{slug}',
  summary: 'A public page, or why it cannot be filled',
  compressed: true,
  needs: 'nobody',
  /** Asked for along with the scripts of the page, by whoever comes by the address alone. */
  query: z.object({
    by: z.enum(['address']).optional(),
    /** The language in which it is wanted, before what `Accept-Language` says. */
    lang: z.string().max(20).optional(),
  }),
  body: nothing,
  answer: z.union([openPage, unavailablePage]),
});

const answerShape = z.object({
  id: z.number(),
  at: z.string(),
  version: z.number(),
  reference: z.string(),
  /** The label of the code that opened the page. */
  code: z.string().nullable(),
  /** The number of the personal link that opened it. */
  link: z.number().nullable(),
  /** What it wrote or found, the form’s own record first; those that the reader sees. */
  records: z.array(
    z.object({
      table: z.string(),
      tableLabel: z.string(),
      record: z.number(),
      title: z.string(),
      did: z.enum(['added', 'found', 'changed']),
    }),
  ),
  /** The text that its sender agreed to. */
  consent: z.string().nullable(),
  /** The number of the held answer that was released. */
  held: z.number().nullable(),
  corrections: z.number(),
  correctedAt: z.string().nullable(),
  /** When its records were erased, and which were not, in words. */
  erasedAt: z.string().nullable(),
  notErased: z.string().nullable(),
});
export type AnswerView = z.infer<typeof answerShape>;

export const listAnswers = contract({
  method: 'GET',
  path: '/api/forms/{form}/answers',
  summary: 'The answers of a public page, newest first: where each came from and which records it made',
  needs: 'change',
  query: z.object({
    /** The number of the answer to go on after. */
    before: z.coerce.number().int().min(1).optional(),
    limit: z.coerce.number().int().min(1).max(200).default(50),
  }),
  body: nothing,
  answer: z.object({
    answers: z.array(answerShape),
    total: z.number(),
    /** Answers a day of the last year, in the civil time of the office; days without one are left out. */
    days: z.array(z.object({ day: z.string(), count: z.number() })),
  }),
});
export const exportAnswers = contract({
  method: 'GET',
  path: '/api/forms/{form}/answers.csv',
  summary: 'All answers of a public page as CSV, with the values of the form’s own records',
  needs: 'export',
  query: empty,
  body: nothing,
  answer: z.unknown(),
});

const linkShape = z.object({
  id: z.number(),
  record: z.number(),
  title: z.string(),
  /** The last part of its address: `#link=…`. */
  token: z.string(),
  once: z.boolean(),
  until: z.string().nullable(),
  state: z.enum(['open', 'used', 'late', 'withdrawn']),
  answers: z.number(),
  /** When a message with it was put into the outbox. */
  mailedAt: z.string().nullable(),
});
export type PersonalLinkView = z.infer<typeof linkShape>;
const links = z.object({
  links: z.array(linkShape),
  total: z.number(),
  /** The link to ask older ones before; null at the end. */
  before: z.number().nullable(),
});

export const listPersonalLinks = contract({
  method: 'GET',
  path: '/api/forms/{form}/personal-links',
  summary: 'The personal links to a public page, and what became of them',
  needs: 'build',
  query: z.object({
    before: z.coerce.number().int().min(1).optional(),
    limit: z.coerce.number().int().min(1).max(1_000).default(200),
  }),
  body: nothing,
  answer: links,
});
export const makePersonalLinks = contract({
  method: 'POST',
  path: '/api/forms/{form}/personal-links',
  summary: 'Make a personal link for each record of a shared view, or of its table, that has none',
  needs: 'build',
  query: empty,
  body: z.strictObject({
    /** A shared view of the table that the links are for; all its records without. */
    view: z.int().min(1).nullable().default(null),
    once: z.boolean().default(true),
    /** The last day on which they can be used. */
    until: z
      .string()
      .regex(/^\d{4}-\d{2}-\d{2}$/)
      .nullable()
      .default(null),
  }),
  answer: z.object({ made: z.number(), had: z.number() }),
});
export const withdrawPersonalLink = contract({
  method: 'DELETE',
  path: '/api/forms/{form}/personal-links/{id}',
  summary: 'Withdraw a personal link: it opens the page no more',
  needs: 'build',
  query: empty,
  body: nothing,
  answer: z.object({}),
});
export const sendPersonalLinks = contract({
  method: 'POST',
  path: '/api/forms/{form}/personal-links/mails',
  summary: 'Put a message into the outbox for each personal link that is open, was not sent yet and has an address',
  needs: 'build',
  query: empty,
  body: z.strictObject({
    /** The field of the links’ records that holds an e-mail address. */
    to: z.string().max(63),
    subject: z.string().trim().min(1).max(200),
    /** `{link}` stands for the address, `{title}` for the title of the record. */
    text: z
      .string()
      .trim()
      .min(1)
      .max(5_000)
      .refine((text) => text.includes('{link}'), 'Write {link} where the address is to stand.'),
  }),
  /** How many messages were written, how many records have no address, how many links were sent before. */
  answer: z.object({ sent: z.number(), without: z.number(), before: z.number() }),
});
