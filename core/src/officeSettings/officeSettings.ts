import { z } from 'zod';
import { sayLater } from '../languages/index.ts';
import type { Office } from '../office/index.ts';

const works = (make: () => unknown): boolean => {
  try {
    make();
    return true;
  } catch {
    return false;
  }
};

/** A name of the IANA time zone database, such as `Europe/Lisbon`. */
const timeZoneSchema = z
  .string()
  .max(60)
  .refine(
    (zone) => works(() => new Intl.DateTimeFormat('en', { timeZone: zone })),
    sayLater('There is no time zone of this name.'),
  );

/** A BCP 47 language tag with a region, such as `en-GB`. */
export const localeSchema = z
  .string()
  .max(20)
  .refine((tag) => works(() => new Intl.Locale(tag)) && Intl.NumberFormat.supportedLocalesOf(tag).length > 0, {
    message: sayLater('Numbers and dates of this locale are not known.'),
  });

/** An ISO 4217 currency code, such as `EUR`. */
export const currencySchema = z
  .string()
  .refine((code) => Intl.supportedValuesOf('currency').includes(code), sayLater('There is no currency of this code.'));

/** The settings of an office, checked. */
export const officeSchema = z.strictObject({
  timeZone: timeZoneSchema,
  locale: localeSchema,
  currency: currencySchema,
}) satisfies z.ZodType<Office>;
