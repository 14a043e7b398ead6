import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { currencyPlaces, currentOffice, formatAmount, withoutCurrency } from '../office/index.ts';
import { currencySchema } from '../officeSettings/index.ts';
import { defineFieldType } from './fieldType.ts';
import { acceptDecimal, checkRange, DECIMAL_DIGITS, readNumber } from './number.ts';
import { roundBy, roundingSchema } from './rounding.ts';
import { type Parsed, parsed } from './value.ts';

const settings = z
  .strictObject({
    /** ISO 4217 code; the office’s currency where nothing is said. */
    currency: currencySchema.default(() => currentOffice().currency),
    /** Digits after the decimal mark; those of the currency where nothing is said. */
    places: z.int().min(0).max(6).optional(),
    /** How a calculation that gives more places is brought to these. */
    rounding: roundingSchema.default('halfUp'),
    least: z.number().optional(),
    most: z.number().optional(),
  })
  .transform((given) => ({ ...given, places: given.places ?? currencyPlaces(given.currency) }));
type AmountSettings = z.infer<typeof settings>;

const accept = (json: unknown, { currency, places }: AmountSettings): Parsed =>
  acceptDecimal(
    json,
    places,
    (example) => say('Type an amount, such as {example}.', { example }),
    (some) => formatAmount(12.5, currency, some),
  );

/** A sum of money in one currency, kept as a decimal: `€1,234.50`. */
export const amount = defineFieldType(settings as unknown as z.ZodType<AmountSettings>, {
  name: 'amount',
  word: sayLater('amount'),
  family: 'number',
  group: 'Numbers',
  starting: (currency) => ({ currency }),
  settingWords: ({ currency }) => ` in ${currency}`,
  editable: true,
  column: ({ places }) => `numeric(${DECIMAL_DIGITS},${places})`,
  parse: (typed, s, writing) => {
    const bare = withoutCurrency(typed, s.currency);
    return bare === '' ? parsed(null) : accept(readNumber(bare, writing), s);
  },
  accept,
  format: (value, { currency, places }) => formatAmount(Number(value), currency, places),
  check: (value, { least, most, currency, places }) =>
    typeof value === 'number' ? checkRange(value, least, most, (limit) => formatAmount(limit, currency, places)) : [],
  round: (value, { places, rounding }) => roundBy(value, places, rounding),
});
