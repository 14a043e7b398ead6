import { z } from 'zod';
import { languageSchema, say, sayLater } from '../languages/index.ts';
import { localeSchema } from '../officeSettings/index.ts';
import { fieldIdSchema, labelSchema } from '../tables/index.ts';

/** A moment of the office’s civil time, to the minute: `2026-08-17T15:30`. */
const momentSchema = z
  .string()
  .regex(/^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])T([01]\d|2[0-3]):[0-5]\d$/, sayLater('Give a date and a time.'));
const daySchema = z.string().regex(/^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/, sayLater('Give a date.'));

/** The most answers that a limit can name. */
export const MOST_ANSWERS = 1_000_000;
/** The most days after which answers can be erased: ten years. */
export const MOST_DAYS_KEPT = 3_650;
/** The most languages that a page is given in besides its own, and the most texts in each. */
export const MOST_LANGUAGES = 12;
const MOST_TEXTS = 3_000;
const limitSchema = z.int().min(1).max(MOST_ANSWERS);

/** A code that opens a page; answers are stamped with its label. */
const codeSchema = z.strictObject({
  code: z
    .string()
    .trim()
    .regex(/^[\p{L}\p{N}-]{4,40}$/u, sayLater('A code has 4 to 40 letters, digits and hyphens.')),
  label: labelSchema,
});
export type PageCode = z.infer<typeof codeSchema>;

/** Who may open a page. Left out in a page: everybody who has its address. */
const whoSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('code'),
    codes: z
      .array(codeSchema)
      .min(1, sayLater('Add a code, or let everybody open the page.'))
      .max(50)
      .refine(
        (codes) => new Set(codes.map((one) => sameCode(one.code))).size === codes.length,
        sayLater('Two codes are alike.'),
      ),
  }),
  /** Whoever has a personal link; `fills` is the link field of the form that takes the record of the link. */
  z.strictObject({ kind: z.literal('link'), fills: fieldIdSchema }),
]);
export type PageWho = z.infer<typeof whoSchema>;

/** How a code is compared: people write it in capitals, or with blanks around it. */
export const sameCode = (typed: string): string => typed.normalize('NFKC').trim().toLowerCase();

export const PAGE_STYLES = ['card', 'plain', 'slate'] as const;
export const PAGE_STYLE_WORDS: Readonly<Record<(typeof PAGE_STYLES)[number], string>> = {
  card: sayLater('Card: white stock with a red head rule'),
  plain: sayLater('Plain: no frame, for a page within another site'),
  slate: sayLater('Slate: a dark heading, larger text'),
};

/** The origin of a site (RFC 6454): what a content security policy names. */
const siteSchema = z
  .string()
  .trim()
  .max(200)
  .regex(
    /^https?:\/\/(?:[a-z0-9](?:[a-z0-9-]*[a-z0-9])?\.)*[a-z0-9](?:[a-z0-9-]*[a-z0-9])?(?::\d{1,5})?$/,
    sayLater('Give the beginning of an address without a path, such as https://gannet.example.'),
  );

const ownWords = z.string().trim().max(500);
/** The builder’s own words in place of the standard ones; what is left out is the standard. */
const wordsSchema = z
  .strictObject({ before: ownWords, closed: ownWords, full: ownWords, send: z.string().trim().max(40) })
  .partial();
export type PageWords = z.infer<typeof wordsSchema>;

/**
 * How a form stands on a public page. What is left out is the usual: everybody may open it, at any time, as often as they
 * like, and what was sent stays as it is.
 *
 * @example
 * { slug: 'report-a-fault', intro: '', thanks: 'Thank you.', disclosed: [], when: { opens: null, closes: '2026-09-01T12:00' } }
 */
export const publicPageSchema = z.strictObject({
  /** The last part of its address. */
  slug: z
    .string()
    .regex(/^[a-z0-9][a-z0-9-]{1,60}$/, sayLater('An address has small letters, digits and hyphens only.')),
  intro: z.string().max(2_000).default(''),
  thanks: z.string().max(2_000).default('Thank you. Your answers have arrived.'),
  /** What strangers may read through it, as the builder has confirmed: keys of the check’s findings. */
  disclosed: z.array(z.string().max(20_000)).max(500).default([]),
  who: whoSchema.optional(),
  /** From when until when it takes answers; null is open-ended. */
  when: z.strictObject({ opens: momentSchema.nullable(), closes: momentSchema.nullable() }).optional(),
  /** At most so many answers in all. */
  atMost: limitSchema.optional(),
  /** At most so many answers for each record that a link field of the form names. */
  atMostFor: z.strictObject({ field: fieldIdSchema, most: limitSchema }).optional(),
  words: wordsSchema.optional(),
  /** The address that a respondent comes to after sending, in place of the closing words. */
  goesOnTo: z
    .string()
    .trim()
    .max(500)
    .regex(/^https?:\/\/[^\s/]+/i, sayLater('Give an address that begins with https:// or http://.'))
    .optional(),
  style: z.enum(PAGE_STYLES).optional(),
  /** How it writes and reads numbers and dates, where that is not as in the office. */
  locale: localeSchema.optional(),
  /** The language that its labels are written in, and that it speaks itself; English where it is left out. */
  language: languageSchema.optional(),
  /** Its labels and words in other languages, by language and by the text as it is written. */
  translations: z
    .record(languageSchema, z.record(z.string().max(5_000), z.string().trim().max(5_000)))
    .refine((of) => Object.keys(of).length <= MOST_LANGUAGES, {
      error: () => say('At most {count} languages fit.', { count: MOST_LANGUAGES }),
    })
    .refine((of) => Object.values(of).every((texts) => Object.keys(texts).length <= MOST_TEXTS), {
      error: () => say('At most {count} texts fit in a language.', { count: MOST_TEXTS }),
    })
    .optional(),
  /** A section a step, with progress. */
  steps: z.literal(true).optional(),
  /** Fields that cannot be changed where the address of the page fills them. */
  locked: z.array(fieldIdSchema).max(600).optional(),
  /** A respondent comes back by the link of the receipt and corrects the answer, until a day or for good. */
  corrections: z.strictObject({ until: daySchema.nullable() }).optional(),
  /** The sites that may show the page within their own: origins such as `https://gannet.example`. */
  sites: z.array(siteSchema).min(1).max(20).optional(),
  /** A message to the respondent: the field that holds the e-mail address, and its words, with places such as `{reference}`. */
  confirmation: z
    .strictObject({
      to: fieldIdSchema,
      subject: z.string().trim().min(1, sayLater('Give the confirmation a subject.')).max(200),
      text: z.string().trim().min(1, sayLater('Write what the confirmation says.')).max(5_000),
    })
    .optional(),
  /** What a respondent agrees to before sending; the text is kept with the answer. */
  consent: z.string().trim().min(1).max(4_000).optional(),
  /** Answers are erased with the records that they added after so many days. */
  eraseAfterDays: z.int().min(1).max(MOST_DAYS_KEPT).optional(),
});
export type PublicPage = z.infer<typeof publicPageSchema>;
