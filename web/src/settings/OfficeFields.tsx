import { formatDay } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { civilOf, formatNumber, type Office, writingOf } from '@fiche/core/office';
import { useMemo } from 'react';
import { PickField, type PickOption } from '../parts/index.ts';

/** Locales that are offered by name; the one that is set is always among them. */
const LOCALES = [
  'cs-CZ',
  'da-DK',
  'de-AT',
  'de-CH',
  'de-DE',
  'en-AU',
  'en-CA',
  'en-GB',
  'en-IE',
  'en-NZ',
  'en-US',
  'en-ZA',
  'es-ES',
  'es-MX',
  'et-EE',
  'fi-FI',
  'fr-BE',
  'fr-CA',
  'fr-CH',
  'fr-FR',
  'hr-HR',
  'is-IS',
  'it-CH',
  'it-IT',
  'lt-LT',
  'lv-LV',
  'nb-NO',
  'nl-BE',
  'nl-NL',
  'pl-PL',
  'pt-BR',
  'pt-PT',
  'sk-SK',
  'sl-SI',
  'sv-FI',
  'sv-SE',
];

/** What this browser says of where it is: what an office begins with. */
export function officeOfBrowser(): Office {
  const { timeZone } = new Intl.DateTimeFormat().resolvedOptions();
  const locale = LOCALES.includes(navigator.language) ? navigator.language : 'en-GB';
  return { timeZone, locale, currency: 'EUR' };
}

const byLabel = (a: PickOption, b: PickOption): number => a.label.localeCompare(b.label, 'en');

const zones = (current: string): PickOption[] =>
  [...new Set(['UTC', current, ...Intl.supportedValuesOf('timeZone')])].map((zone) => ({
    value: zone,
    label: zone.replaceAll('_', ' '),
  }));

/** The locales that are offered, with the one that is set, by their names. */
export function locales(current: string): PickOption[] {
  const names = new Intl.DisplayNames('en', { type: 'language', languageDisplay: 'standard' });
  return [...new Set([...LOCALES, current])]
    .map((tag) => ({ value: tag, label: names.of(tag) ?? tag, also: tag }))
    .sort(byLabel);
}

/** Every currency in use, by its code and name. */
export function currencies(): PickOption[] {
  const names = new Intl.DisplayNames('en', { type: 'currency' });
  return Intl.supportedValuesOf('currency')
    .map((code) => ({ value: code, label: `${code}, ${names.of(code) ?? ''}`, also: code }))
    .sort(byLabel);
}

interface OfficeFieldsProps {
  readonly office: Office;
  readonly disabled?: boolean;
  onChange(office: Office): void;
}

/** Time zone, locale and currency of the office, each with what it comes to. */
export function OfficeFields({ office, disabled, onChange }: OfficeFieldsProps) {
  const offered = useMemo(() => ({ locales: locales(office.locale), currencies: currencies() }), [office.locale]);
  const writing = writingOf(office.locale);
  return (
    <>
      <PickField
        id="timeZone"
        label={say('Time zone')}
        help={say('It is {value} there now. Today, now and the days of the ledger follow it.', {
          value: civilOf(new Date(), office.timeZone).slice(11),
        })}
        options={zones(office.timeZone)}
        value={office.timeZone}
        disabled={disabled}
        onPick={(timeZone) => onChange({ ...office, timeZone })}
      />
      <PickField
        id="locale"
        label={say('Numbers and dates as in')}
        help={say('Such as {value} and {day}.', {
          value: formatNumber(12345.6, 2, writing),
          day: formatDay('2026-08-17', office.locale),
        })}
        options={offered.locales}
        value={office.locale}
        disabled={disabled}
        onPick={(locale) => onChange({ ...office, locale })}
      />
      <PickField
        id="currency"
        label={say('Currency')}
        help={say('What a new amount begins with; each amount can have its own.')}
        options={offered.currencies}
        value={office.currency}
        disabled={disabled}
        onPick={(currency) => onChange({ ...office, currency })}
      />
    </>
  );
}
