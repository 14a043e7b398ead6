import { z } from 'zod';

/** Points in a millimetre: a point is 1/72 inch. */
export const POINTS_A_MM = 72 / 25.4;

/** The papers that are printed on, by their sizes in millimetres (ISO 216; ANSI Letter). */
export const PAPERS = {
  a4: { label: 'A4', width: 210, height: 297 },
  letter: { label: 'Letter', width: 215.9, height: 279.4 },
} as const;
export type Paper = keyof typeof PAPERS;
export const paperSchema = z.enum(['a4', 'letter']);

/** The orientation of a printed list; `auto` is landscape where it has many columns. */
export const orientationSchema = z.enum(['auto', 'portrait', 'landscape']);
export type Orientation = z.infer<typeof orientationSchema>;

/** The paper of a country: Letter in North America and a few others (CLDR, paperSize), A4 elsewhere. */
export const paperOf = (locale: string): Paper =>
  /-(US|CA|MX|CL|CO|CR|GT|NI|PA|PH|PR|SV|VE)\b/.test(locale) ? 'letter' : 'a4';
