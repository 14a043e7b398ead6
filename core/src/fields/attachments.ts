import { z } from 'zod';
import { say, sayCount, sayLater } from '../languages/index.ts';
import { defineFieldType } from './fieldType.ts';
import { itemsOf } from './several.ts';
import { type Parsed, parsed, refused, type Value } from './value.ts';

/** What a field of attachments takes, by what is in the file, never by its name. */
export const KINDS = {
  any: { words: () => say('any kind'), takes: (_kind: string) => true },
  pictures: { words: () => say('pictures'), takes: (kind: string) => PICTURES.includes(kind) },
  documents: {
    words: () => say('pictures and PDFs'),
    takes: (kind: string) => PICTURES.includes(kind) || kind === 'application/pdf',
  },
} as const;
export type Kinds = keyof typeof KINDS;

/** The kinds of pictures that every browser shows. */
export const PICTURES: readonly string[] = ['image/png', 'image/jpeg', 'image/gif', 'image/webp', 'image/avif'];

/** No file is larger than this, whatever a field says, in MB. */
export const LARGEST_MB = 100;
const MOST_FILES = 200;

const settings = z.strictObject({
  kinds: z.enum(['any', 'pictures', 'documents']).default('any'),
  /** How large one file may be, in MB. */
  largest: z.number().int().min(1).max(LARGEST_MB).default(25),
  mostCount: z.number().int().min(1).max(MOST_FILES).default(100),
});
export type AttachmentSettings = z.infer<typeof settings>;

const TOKEN = /^([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})\/(.{1,200})$/su;

/** A file as a value: its id, and the name that it came with. */
export interface FileToken {
  readonly id: string;
  readonly name: string;
}

/** Reads `id/name`; undefined for anything else. */
export function readFileToken(item: unknown): FileToken | undefined {
  const found = typeof item === 'string' ? TOKEN.exec(item) : null;
  return found ? { id: found[1] ?? '', name: found[2] ?? '' } : undefined;
}

export const writeFileToken = ({ id, name }: FileToken): string => `${id}/${name}`;

/** The files of a value. */
export const filesOf = (value: Value | undefined): FileToken[] =>
  itemsOf(value).flatMap((item) => readFileToken(item) ?? []);

/**
 * A name as a file keeps it: in any script, on one line, without what would make it a path or hide its ending, never
 * empty.
 */
export function fileName(name: string): string {
  const last = name.normalize('NFC').split(/[\\/]/).at(-1) ?? '';
  // biome-ignore lint/suspicious/noControlCharactersInRegex: names come from anywhere.
  const plain = last.replace(/[\u0000-\u001f\u007f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g, '').trim();
  const letters = [...plain];
  const short = letters.length > 120 ? [...letters.slice(0, 100), '…', ...letters.slice(-19)].join('') : plain;
  return short === '' || /^\.+$/.test(short) ? 'file' : short;
}

function accept(json: unknown): Parsed {
  if (json === null) return parsed(null);
  if (!Array.isArray(json) || json.some((one) => !readFileToken(one)))
    return refused(say('These must be files that were sent here first. Add them again.'));
  const files = [...new Set(json as string[])];
  if (files.length > MOST_FILES) return refused(say('At most {most} files fit.', { most: MOST_FILES }));
  return parsed(files.length === 0 ? null : files);
}

/** Several files: each is sent first, and kept with the record once that is saved. */
export const attachments = defineFieldType(settings, {
  name: 'attachments',
  word: sayLater('attachments'),
  family: 'choices',
  group: 'Other',
  files: true,
  whenBlank: () => say('Add a file.'),
  editable: true,
  column: () => 'text[]',
  parse: (typed) =>
    typed.trim() === ''
      ? parsed(null)
      : refused(say('Files cannot be typed or pasted as text. Add them with the button.')),
  accept,
  format: (value) =>
    filesOf(value)
      .map((file) => file.name)
      .join(', '),
  check: (value, { mostCount }: AttachmentSettings) =>
    itemsOf(value).length > mostCount
      ? [
          {
            rule: 'most',
            message: sayCount(mostCount, 'Only one file fits here.', 'At most {count} files fit here.'),
          },
        ]
      : [],
});
