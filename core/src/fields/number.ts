import { say, sayCount } from '../languages/index.ts';
import { type Writing, writingOf } from '../office/index.ts';
import { type Parsed, parsed, refused } from './value.ts';

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

/** Significant digits that a double holds exactly, so that it agrees with PostgreSQL's numeric. */
export const DECIMAL_DIGITS = 15;

/**
 * A JSON number as a decimal with so many places, or why it is none: what `wrong` says, with an example of so many places.
 * Nothing is rounded, since somebody typed it.
 */
export function acceptDecimal(
  json: unknown,
  places: number,
  wrong: (example: string) => string,
  example: (places: number) => string,
): Parsed {
  if (json === null) return parsed(null);
  if (typeof json !== 'number' || !Number.isFinite(json)) return refused(wrong(example(places)));
  const most = DECIMAL_DIGITS - places;
  if (Math.abs(json) >= 10 ** most)
    return refused(say('This number is too large: at most {most} digits before the decimal mark fit.', { most }));
  const rounded = Number(json.toFixed(places));
  if (rounded !== json)
    return refused(
      sayCount(
        places,
        'At most one decimal place fits, such as {example}.',
        'At most {count} decimal places fit, such as {example}.',
        { example: example(places) },
      ),
    );
  return parsed(rounded === 0 ? 0 : rounded);
}

/** The least and most limits of a number or of a date's text, each with a message that shows the limit. */
export function checkRange<T extends number | string>(
  value: T,
  least: T | undefined,
  most: T | undefined,
  show: (limit: T) => string,
): { rule: string; message: string }[] {
  if (least !== undefined && value < least)
    return [{ rule: 'least', message: say('At least {limit}.', { limit: show(least) }) }];
  if (most !== undefined && value > most)
    return [{ rule: 'most', message: say('At most {limit}.', { limit: show(most) }) }];
  return [];
}
