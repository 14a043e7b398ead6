/** Where an office is and how it writes: one for all cabinets of an installation. */
export interface Office {
  /** What `today` and `now` mean, and where the days of the ledger begin: a name of the IANA time zone database. */
  timeZone: string;
  /** How numbers and dates are written and read: a BCP 47 language tag with a region, such as `en-GB`. */
  locale: string;
  /** The currency that new amounts begin with: an ISO 4217 code, such as `EUR`. */
  currency: string;
}

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
