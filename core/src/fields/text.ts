import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { defineFieldType, type FieldType } from './fieldType.ts';
import { fitMask, isMask, maskExample } from './mask.ts';
import { matchesPattern, patternMisfit } from './patterns.ts';
import { type Parsed, parsed, refused, type Value } from './value.ts';

export const textSettings = z.strictObject({
  leastLength: z.int().min(0).max(100_000).optional(),
  mostLength: z.int().min(1).max(100_000).optional(),
  /** A regular expression that the whole text must match. */
  pattern: z
    .string()
    .max(500)
    .superRefine((source, context) => {
      const wrong = patternMisfit(source);
      if (wrong !== undefined) context.addIssue({ code: 'custom', message: wrong });
    })
    .optional(),
  patternMessage: z.string().max(300).optional(),
  /** The form that typed text is brought into: `AA-0000`, with `0` a digit, `A` a letter, `*` either. */
  mask: z
    .string()
    .max(60)
    .refine(isMask, sayLater('A mask needs a place to type in: 0 for a digit, A for a letter, * for either'))
    .optional(),
});
type TextSettings = z.infer<typeof textSettings>;

// biome-ignore lint/suspicious/noControlCharactersInRegex: PostgreSQL's text cannot hold U+0000, so it must be found.
const UNSTORABLE = /\u0000|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

/** Trims and normalises text (Unicode NFC) and refuses what a database cannot hold. Empty text is blank. */
export function acceptText(json: unknown, mostLength: number): Parsed {
  if (json === null) return parsed(null);
  if (typeof json !== 'string') return refused(say('This must be text.'));
  if (UNSTORABLE.test(json)) return refused(say('This text has a character that cannot be stored. Type it again.'));
  const text = json.normalize('NFC').trim();
  if (text.length > mostLength)
    return refused(
      say('This is {length} characters long; at most {most} fit.', { length: text.length, most: mostLength }),
    );
  return parsed(text === '' ? null : text);
}

/** The limits that text of any kind can carry: length and pattern. */
export function checkText(value: Value, settings: TextSettings): { rule: string; message: string }[] {
  if (typeof value !== 'string') return [];
  const found: { rule: string; message: string }[] = [];
  const length = [...value].length;
  const { leastLength, mostLength, pattern } = settings;
  if (leastLength !== undefined && length < leastLength)
    found.push({
      rule: 'length',
      message: say('Type at least {least} characters; this has {length}.', { least: leastLength, length }),
    });
  if (mostLength !== undefined && length > mostLength)
    found.push({
      rule: 'length',
      message: say('Type at most {most} characters; this has {length}.', { most: mostLength, length }),
    });
  if (pattern !== undefined && !matchesPattern(pattern, value))
    found.push({ rule: 'pattern', message: settings.patternMessage ?? say('This does not have the expected form.') });
  if (settings.mask !== undefined && fitMask(value, settings.mask) !== value)
    found.push({ rule: 'mask', message: say('Write it like {example}.', { example: maskExample(settings.mask) }) });
  return found;
}

const ONE_LINE = 2_000;

export const text = defineFieldType(textSettings, {
  name: 'text',
  word: sayLater('text'),
  family: 'text',
  group: 'Text',
  startsWithAccount: true,
  editable: true,
  column: () => 'text',
  parse: (typed, { mask }) => {
    const line = typed.replace(/\s*[\r\n]+\s*/g, ' ');
    return acceptText((mask !== undefined ? fitMask(line, mask) : undefined) ?? line, ONE_LINE);
  },
  accept: (json) => acceptText(json, ONE_LINE),
  format: String,
  check: checkText,
});

/** A type of one-line text that has a form of its own: `accept` reads it, and brings it into its canonical form. */
export const formText = (name: string, word: string, accept: (json: unknown) => Parsed): FieldType =>
  defineFieldType(z.strictObject({}), {
    name,
    word,
    family: 'text',
    group: 'Text',
    editable: true,
    column: () => 'text',
    parse: accept,
    accept,
    format: String,
    check: () => [],
  });
