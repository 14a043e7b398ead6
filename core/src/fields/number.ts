import { type Writing, writingOf } from '../office/index.ts';

/** Spaces and apostrophes, which some locales set between thousands. */
const GAPS = /[\s\u00a0\u202f'’]/g;

/**
 * Reads a number as people of the office write it, or as another `writing` does. Where the decimal mark is a point:
 * `12`, `-3.5`, `1,234.50`, `1 234.5`, and a comma where it cannot stand between thousands (`12,5`, `0,500`). Where it is a
 * comma, the two change places. Returns undefined for anything else.
 */
export function readNumber(text: string, writing: Pick<Writing, 'decimal'> = writingOf()): number | undefined {
  const bare = text.trim().replace(/^[−–]/, '-').replaceAll(GAPS, '');
  const swapped = writing.decimal === ',' ? bare.replace(/[.,]/g, (mark) => (mark === ',' ? '.' : ',')) : bare;
  if (/^-?[1-9]\d{0,2}(,\d{3})+(\.\d+)?$/.test(swapped)) return Number(swapped.replaceAll(',', ''));
  if (/^-?\d+,\d+$/.test(swapped)) return Number(swapped.replace(',', '.'));
  if (/^-?(\d+(\.\d*)?|\.\d+)$/.test(swapped)) return Number(swapped);
  return undefined;
}

/** The least and most limits of a number or of a date's text, each with a message that shows the limit. */
export function checkRange<T extends number | string>(
  value: T,
  least: T | undefined,
  most: T | undefined,
  show: (limit: T) => string,
): { rule: string; message: string }[] {
  if (least !== undefined && value < least) return [{ rule: 'least', message: `At least ${show(least)}.` }];
  if (most !== undefined && value > most) return [{ rule: 'most', message: `At most ${show(most)}.` }];
  return [];
}
