import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  type Catalogue,
  languageSchema,
  OFFICE_LANGUAGE_COOKIE,
  type Reader,
  translations,
} from '@fiche/core/languages';
import type { FastifyRequest } from 'fastify';
import Negotiator from 'negotiator';
import { z } from 'zod';

const catalogueSchema = z.record(z.string().max(2_000), z.string().max(4_000));

/** The languages that the screens of the office are in: English, and each that has a catalogue. */
export interface OfficeLanguages {
  /** As BCP 47 tags; English first. */
  readonly names: readonly string[];
  /** The texts in a language, by the English ones; none for English. */
  readonly texts: ReadonlyMap<string, Catalogue>;
}

export const ENGLISH_ONLY: OfficeLanguages = { names: ['en'], texts: new Map() };

/**
 * Reads the catalogues of a folder, `pt-BR.json` say; `en.json` is the list that a translator begins with, and is not read. Throws
 * one clear sentence about a file that is none.
 */
export function readOfficeLanguages(folder: string): OfficeLanguages {
  if (!existsSync(folder)) return ENGLISH_ONLY;
  const texts = new Map(
    readdirSync(folder)
      .filter((file) => file.endsWith('.json') && file !== 'en.json')
      .sort()
      .map((file) => [languageOf(file), textsOf(join(folder, file), file)] as const),
  );
  return { names: ['en', ...texts.keys()], texts };
}

function languageOf(file: string): string {
  const language = languageSchema.safeParse(file.slice(0, -'.json'.length));
  if (language.success) return language.data;
  throw new Error(`The catalogue ${file} is not called after a language. Call it fr.json or pt-BR.json, say.`);
}

function textsOf(path: string, file: string): Catalogue {
  let found: unknown;
  try {
    found = JSON.parse(readFileSync(path, 'utf8'));
  } catch {
    throw new Error(`The catalogue ${file} is no JSON. Correct it, or take it away.`);
  }
  const texts = catalogueSchema.safeParse(found);
  if (texts.success) return texts.data;
  throw new Error(
    `The catalogue ${file} has to hold texts by English texts, as en.json does. Correct it, or take it away.`,
  );
}

/** The language of the screens for who sent a request: the one that their browser keeps, else the first it names that there is. */
export function officeLanguageOf({ names }: OfficeLanguages, { cookies, headers }: FastifyRequest): string {
  const kept = cookies[OFFICE_LANGUAGE_COOKIE];
  if (kept !== undefined && names.includes(kept)) return kept;
  const accepted = headers['accept-language'];
  if (names.length === 1 || accepted === undefined) return 'en';
  return new Negotiator({ headers: { 'accept-language': accepted } }).language([...names]) ?? 'en';
}

const readers = new WeakMap<Catalogue, Promise<Reader>>();

/** Who reads the screens in a language; undefined for English. */
export async function officeReader({ texts }: OfficeLanguages, language: string): Promise<Reader | undefined> {
  const own = texts.get(language);
  if (!own) return undefined;
  const made =
    readers.get(own) ?? translations(language, own).then((translated) => ({ language, translated, words: {} }));
  readers.set(own, made);
  return made;
}
