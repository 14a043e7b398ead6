import { languageName } from '../languages/index.ts';
import { formatCount } from '../office/index.ts';
import { PAGE_STYLE_WORDS, type PublicPage } from './settings.ts';

const momentWords = (moment: string): string => moment.replace('T', ' ');

/**
 * What a page is set to, a sentence for each setting that is not the usual; `labelOf` names a field of its form.
 *
 * @example
 * pageWords({ slug: 'faults', …, when: { opens: null, closes: '2026-09-01T12:00' } }, labelOf); // ['Closes at 2026-09-01 12:00']
 */
export function pageWords(page: PublicPage, labelOf: (field: string) => string): string[] {
  const { who, when, atMost, atMostFor, words, goesOnTo, style, steps, locked, corrections, consent } = page;
  const said = (what: string | undefined, as: (what: string) => string): string[] => (what ? [as(what)] : []);
  return [
    `Stands at /p/${page.slug}`,
    ...(who?.kind === 'code' ? [`Opens with a code (${who.codes.map((one) => one.label).join(', ')})`] : []),
    ...(who?.kind === 'link' ? [`Opens with a personal link, which fills ${labelOf(who.fills)}`] : []),
    ...said(when?.opens ?? undefined, (moment) => `Opens at ${momentWords(moment)}`),
    ...said(when?.closes ?? undefined, (moment) => `Closes at ${momentWords(moment)}`),
    ...(atMost === undefined ? [] : [`Takes at most ${formatCount(atMost)} answers`]),
    ...(atMostFor ? [`Takes at most ${formatCount(atMostFor.most)} answers for each ${labelOf(atMostFor.field)}`] : []),
    ...said(page.intro, (text) => `Introduction: ${text}`),
    ...said(page.thanks, (text) => `Closing words: ${text}`),
    ...said(words?.before, (text) => `Before it opens: ${text}`),
    ...said(words?.closed, (text) => `After it has closed: ${text}`),
    ...said(words?.full, (text) => `When it is full: ${text}`),
    ...said(words?.send, (text) => `The button says: ${text}`),
    ...said(goesOnTo, (address) => `Goes on to ${address}`),
    ...(style ? [`Style ${PAGE_STYLE_WORDS[style]}`] : []),
    ...said(page.language, (language) => `Speaks ${languageName(language)}`),
    ...Object.keys(page.translations ?? {}).map((language) => `Can be read in ${languageName(language)}`),
    ...said(page.locale, (locale) => `Numbers and dates as in ${locale}`),
    ...(steps ? ['A section a step'] : []),
    ...(locked?.length ? [`Locked where the address fills it: ${locked.map(labelOf).join(', ')}`] : []),
    ...(page.sites ? [`Can be shown within ${page.sites.join(', ')}`] : []),
    ...(corrections ? [`Answers can be corrected${corrections.until ? ` until ${corrections.until}` : ''}`] : []),
    ...(page.confirmation
      ? [
          `Confirms to ${labelOf(page.confirmation.to)}: ${page.confirmation.subject}`,
          `The confirmation says: ${page.confirmation.text}`,
        ]
      : []),
    ...said(consent, (text) => `Asks for consent: ${text}`),
    ...(page.eraseAfterDays === undefined ? [] : [`Answers are erased after ${formatCount(page.eraseAfterDays)} days`]),
    ...(page.disclosed.length > 0 ? [`Tells strangers what was confirmed (${page.disclosed.length})`] : []),
  ];
}

/**
 * What has changed in the translations of a page, a sentence for each text of a language that it has in both states.
 *
 * @example
 * translationDifferences({ fr: { Berth: 'Quai' } }, { fr: { Berth: 'Poste' } }); // ['“Berth” is now “Poste” in French']
 */
export function translationDifferences(
  before: PublicPage['translations'] = {},
  after: PublicPage['translations'] = {},
): string[] {
  return Object.entries(after).flatMap(([language, texts]) => {
    const earlier = before[language];
    if (!earlier) return [];
    const name = languageName(language);
    return [...new Set([...Object.keys(earlier), ...Object.keys(texts)])].flatMap((text) => {
      const [was, now] = [earlier[text] || undefined, texts[text] || undefined];
      if (was === now) return [];
      return [now ? `“${text}” is now “${now}” in ${name}` : `“${text}” is no longer given in ${name}`];
    });
  });
}
