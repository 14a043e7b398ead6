import { languageName, say } from '../languages/index.ts';
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
    say('Stands at /p/{slug}', { slug: page.slug }),
    ...(who?.kind === 'code'
      ? [say('Opens with a code ({list})', { list: who.codes.map((one) => one.label).join(', ') })]
      : []),
    ...(who?.kind === 'link'
      ? [say('Opens with a personal link, which fills {fills}', { fills: labelOf(who.fills) })]
      : []),
    ...said(when?.opens ?? undefined, (moment) => say('Opens at {moment}', { moment: momentWords(moment) })),
    ...said(when?.closes ?? undefined, (moment) => say('Closes at {moment}', { moment: momentWords(moment) })),
    ...(atMost === undefined ? [] : [say('Takes at most {atMost} answers', { atMost: formatCount(atMost) })]),
    ...(atMostFor
      ? [
          say('Takes at most {most} answers for each {field}', {
            most: formatCount(atMostFor.most),
            field: labelOf(atMostFor.field),
          }),
        ]
      : []),
    ...said(page.intro, (text) => say('Introduction: {text}', { text })),
    ...said(page.thanks, (text) => say('Closing words: {text}', { text })),
    ...said(words?.before, (text) => say('Before it opens: {text}', { text })),
    ...said(words?.closed, (text) => say('After it has closed: {text}', { text })),
    ...said(words?.full, (text) => say('When it is full: {text}', { text })),
    ...said(words?.send, (text) => say('The button says: {text}', { text })),
    ...said(goesOnTo, (address) => say('Goes on to {address}', { address })),
    ...(style ? [say('Style {style}', { style: PAGE_STYLE_WORDS[style] })] : []),
    ...said(page.language, (language) => say('Speaks {language}', { language: languageName(language) })),
    ...Object.keys(page.translations ?? {}).map((language) =>
      say('Can be read in {language}', { language: languageName(language) }),
    ),
    ...said(page.locale, (locale) => say('Numbers and dates as in {locale}', { locale })),
    ...(steps ? [say('A section a step')] : []),
    ...(locked?.length
      ? [say('Locked where the address fills it: {list}', { list: locked.map(labelOf).join(', ') })]
      : []),
    ...(page.sites ? [say('Can be shown within {list}', { list: page.sites.join(', ') })] : []),
    ...(corrections
      ? [
          say('Answers can be corrected{until}', {
            until: corrections.until ? ` ${say('until {until}', { until: corrections.until })}` : '',
          }),
        ]
      : []),
    ...(page.confirmation
      ? [
          say('Confirms to {to}: {subject}', { to: labelOf(page.confirmation.to), subject: page.confirmation.subject }),
          say('The confirmation says: {text}', { text: page.confirmation.text }),
        ]
      : []),
    ...said(consent, (text) => say('Asks for consent: {text}', { text })),
    ...(page.eraseAfterDays === undefined
      ? []
      : [say('Answers are erased after {eraseAfterDays} days', { eraseAfterDays: formatCount(page.eraseAfterDays) })]),
    ...(page.disclosed.length > 0
      ? [say('Tells strangers what was confirmed ({count})', { count: page.disclosed.length })]
      : []),
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
      return [
        now
          ? say('“{text}” is now “{now}” in {name}', { text, now, name })
          : say('“{text}” is no longer given in {name}', { text, name }),
      ];
    });
  });
}
