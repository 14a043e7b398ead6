import type { Locale } from 'date-fns';

/** The words and the first weekday of each language that an office may have, loaded when a calendar opens. */
const LOCALES: Readonly<Record<string, () => Promise<Locale>>> = {
  cs: async () => (await import('date-fns/locale/cs')).cs,
  da: async () => (await import('date-fns/locale/da')).da,
  de: async () => (await import('date-fns/locale/de')).de,
  'en-US': async () => (await import('date-fns/locale/en-US')).enUS,
  'en-CA': async () => (await import('date-fns/locale/en-CA')).enCA,
  en: async () => (await import('date-fns/locale/en-GB')).enGB,
  es: async () => (await import('date-fns/locale/es')).es,
  et: async () => (await import('date-fns/locale/et')).et,
  fi: async () => (await import('date-fns/locale/fi')).fi,
  fr: async () => (await import('date-fns/locale/fr')).fr,
  hr: async () => (await import('date-fns/locale/hr')).hr,
  is: async () => (await import('date-fns/locale/is')).is,
  it: async () => (await import('date-fns/locale/it')).it,
  lt: async () => (await import('date-fns/locale/lt')).lt,
  lv: async () => (await import('date-fns/locale/lv')).lv,
  nb: async () => (await import('date-fns/locale/nb')).nb,
  nl: async () => (await import('date-fns/locale/nl')).nl,
  pl: async () => (await import('date-fns/locale/pl')).pl,
  'pt-BR': async () => (await import('date-fns/locale/pt-BR')).ptBR,
  pt: async () => (await import('date-fns/locale/pt')).pt,
  sk: async () => (await import('date-fns/locale/sk')).sk,
  sl: async () => (await import('date-fns/locale/sl')).sl,
  sv: async () => (await import('date-fns/locale/sv')).sv,
};

/** The calendar of a locale (BCP 47): its own, that of its language, or else British English. */
export function dateLocale(tag: string): Promise<Locale> {
  const load = LOCALES[tag] ?? LOCALES[tag.split('-')[0] ?? ''] ?? LOCALES.en;
  if (!load) throw new Error('British English is always there');
  return load();
}
