import { z } from 'zod';

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
    'There is no time zone of this name.',
  );

/** A BCP 47 language tag with a region, such as `en-GB`. */
export const localeSchema = z
  .string()
  .max(20)
  .refine((tag) => works(() => new Intl.Locale(tag)) && Intl.NumberFormat.supportedLocalesOf(tag).length > 0, {
    message: 'Numbers and dates of this locale are not known.',
  });

/** An ISO 4217 currency code, such as `EUR`. */
export const currencySchema = z
  .string()
  .refine((code) => Intl.supportedValuesOf('currency').includes(code), 'There is no currency of this code.');

/** Where an office is and how it writes: one for all cabinets of an installation. */
export const officeSchema = z.strictObject({
  /** What `today` and `now` mean, and where the days of the ledger begin. */
  timeZone: timeZoneSchema,
  /** How numbers and dates are written and read. */
  locale: localeSchema,
  /** The currency that new amounts begin with. */
  currency: currencySchema,
});
export type Office = z.infer<typeof officeSchema>;

export const DEFAULT_OFFICE: Office = { timeZone: 'UTC', locale: 'en-GB', currency: 'EUR' };

let office: Office = DEFAULT_OFFICE;

let readOffice = (standing: Office): Office => standing;

/** The office that this process serves: a server has one database, a browser page one server. */
export const currentOffice = (): Office => readOffice(office);

/** Lets another office take the place of the one that was set, for some callers: a visitor whose page writes numbers in another way. */
export function overrideOffice(read: (standing: Office) => Office): void {
  readOffice = read;
}

/** Says which office this process serves; whoever reads it from the database or the server calls this. */
export function setOffice(next: Office): void {
  office = next;
}
