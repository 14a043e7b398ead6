import type { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import type { Writing } from '../office/index.ts';
import type { Parsed, Value } from './value.ts';

/** What a value may be compared with and copied into: only values of one family fit each other. */
export type Family = 'text' | 'number' | 'yesNo' | 'date' | 'time' | 'dateTime' | 'link' | 'choices' | 'links';

/** How a number is written: which mark its decimals have. */
type NumberWriting = Pick<Writing, 'decimal'>;

/** The headings under which types are offered, in this order. */
export const TYPE_GROUPS = [
  sayLater('Text'),
  sayLater('Numbers'),
  sayLater('Dates and times'),
  sayLater('Choices'),
  sayLater('Links'),
  sayLater('Other'),
] as const;
type TypeGroup = (typeof TYPE_GROUPS)[number];

type Trait =
  | 'links'
  | 'words'
  | 'files'
  | 'people'
  | 'numbered'
  | 'long'
  | 'whenBlank'
  | 'starting'
  | 'settingWords'
  | 'moments'
  | 'startsWithAccount';

export type Settings = Readonly<Record<string, unknown>>;

/**
 * One field type, said once: its settings, column, and how its values are read, shown and checked. Settings have been
 * through `settingsSchema` before any other member sees them.
 */
export interface FieldType {
  readonly name: string;
  /** What a person calls it, as in "whole number". */
  readonly word: string;
  readonly family: Family;
  readonly settingsSchema: z.ZodType<Settings>;
  /** False for values that only the system gives, such as a sequence number. */
  readonly editable: boolean;
  /** Under which heading it is offered. */
  readonly group: TypeGroup;
  /** Its values are records of another table: one, or several at a time. */
  readonly links?: 'one' | 'several';
  /** Its values are words of a list: one, or several at a time. */
  readonly words?: 'one' | 'several';
  /** Its values are files. */
  readonly files?: boolean;
  /** Its values are accounts of the office. */
  readonly people?: boolean;
  /** Its values are addresses to which a mail is sent. */
  readonly mailed?: boolean;
  /** Its values tell people apart, so that a record can be found by one. */
  readonly tellsApart?: boolean;
  /** The database gives each new record a number of its own. */
  readonly numbered?: boolean;
  /** Too long for an index of whole values: found by its words, never compared between records. */
  readonly long?: boolean;
  /** What to do when it is required and blank; *Fill it in.* when left out. */
  readonly whenBlank?: () => string;
  /** What a new field of it begins with; nothing when left out. `currency` is the office's. */
  starting?(currency: string): Settings;
  /** What its settings add to its name, such as `, 2 places`; nothing when left out. */
  settingWords?(settings: Settings): string;
  /** What a new record may start with, from the civil moment `2027-03-01T10:15`. */
  readonly moments?: Readonly<Partial<Record<'today' | 'now', (now: string) => Value>>>;
  /** A new record may start with who fills it. */
  readonly startsWithAccount?: boolean;
  /** PostgreSQL column type. */
  column(settings: Settings): string;
  /**
   * Reads what a person typed or pasted, numbers as the office writes them or as `writing` says; the message of a refusal
   * shows an accepted example.
   */
  parse(text: string, settings: Settings, writing?: NumberWriting): Parsed;
  /** Checks the shape of a value that came as JSON, and brings it into its one canonical form. */
  accept(json: unknown, settings: Settings): Parsed;
  /** Shows a value that is not blank; `parse` reads it back to the same value. */
  format(value: Value, settings: Settings): string;
  /** The limits of the settings (least, most, length, pattern, one of the choices): the message of each one broken. */
  check(value: Value, settings: Settings): readonly { rule: string; message: string }[];
  /** Brings a calculated number to what the type can hold; left out where calculations give no such type. */
  round?(value: number, settings: Settings): number;
  /** A value that is not blank as PostgreSQL's JSON writes it, in its canonical form. */
  stored(json: unknown): Value;
}

/** What a type is called with its article: `a decimal`, `an amount`. */
export const withArticle = ({ word }: Pick<FieldType, 'word'>): string =>
  /^[aeiou]/.test(word) ? say('an {word}', { word: say(word) }) : say('a {word}', { word: say(word) });

/**
 * Declares a field type whose members see their settings typed. This is the one place where settings lose and regain
 * their type: definitions are validated with `settingsSchema` wherever they enter.
 */
export function defineFieldType<S>(
  schema: z.ZodType<S>,
  type: Pick<FieldType, 'name' | 'word' | 'family' | 'editable' | 'group' | Trait> & {
    column(settings: S): string;
    parse(text: string, settings: S, writing?: NumberWriting): Parsed;
    accept(json: unknown, settings: S): Parsed;
    format(value: Value, settings: S): string;
    check(value: Value, settings: S): readonly { rule: string; message: string }[];
    round?(value: number, settings: S): number;
    /** Left out where JSON has the canonical form already. */
    stored?(json: unknown): Value;
  },
): FieldType {
  return {
    stored: (json: unknown) => json as Value,
    ...type,
    settingsSchema: schema as unknown as z.ZodType<Settings>,
  } as unknown as FieldType;
}
