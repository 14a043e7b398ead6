import { z } from 'zod';
import { contract } from './contract.ts';
import { empty, nothing } from './shapes.ts';

const officeLanguageShape = z.object({
  /** The language of the screens for who asks: the one their browser keeps, else the first it names that the office has. */
  language: z.string(),
  /** All languages that the screens are in, as BCP 47 tags; English first. */
  languages: z.array(z.string()),
  /** The texts of the screens in it, by the English ones (i18next JSON v4); none for English. */
  texts: z.record(z.string(), z.string()),
});
export type OfficeLanguage = z.infer<typeof officeLanguageShape>;

export const officeLanguage = contract({
  method: 'GET',
  path: '/api/languages',
  summary: 'The language of the office’s screens for who asks, and its texts',
  needs: 'nobody',
  compressed: true,
  query: empty,
  body: nothing,
  answer: officeLanguageShape,
});
