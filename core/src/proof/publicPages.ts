import { holdsAddress, linksOne } from '../fields/index.ts';
import { textsOf } from '../forms/index.ts';
import { languageName, say } from '../languages/index.ts';
import { formatCount } from '../office/index.ts';
import { type Check, called, type Examined, type Finding } from './finding.ts';

/** Settings of a public page that cannot hold: fields that are not on the form, and moments that leave no time. */
export const publicPages: Check = (examined) => {
  const { page } = examined.definition;
  if (!page) return [];
  const { who, when, atMostFor, locked = [], confirmation } = page;
  const { opens, closes } = when ?? {};
  return [
    ...(who?.kind === 'link' ? linkField(examined, who.fills, say('The personal link fills')) : []),
    ...(atMostFor ? linkField(examined, atMostFor.field, say('The limit of answers counts by')) : []),
    ...locked
      .filter((field) => !examined.form.fields.get(field)?.placed)
      .map((field) =>
        found(
          'must',
          say('{examined} is locked on the public page and is not on the form.', { examined: called(examined, field) }),
          say('Unlock it.'),
        ),
      ),
    ...(confirmation && !isAddress(examined, confirmation.to)
      ? [
          found(
            'must',
            say('The confirmation goes to {examined}, which is no e-mail field on the form.', {
              examined: called(examined, confirmation.to),
            }),
            say('Choose a field that holds an e-mail address.'),
          ),
        ]
      : []),
    ...(opens && closes && closes <= opens
      ? [found('must', say('The public page closes before it opens.'), say('Nobody could send an answer.'))]
      : []),
    ...(closes && closes <= examined.now && !(opens && closes <= opens)
      ? [found('look', say('The public page has closed already.'), say('Nobody can send an answer.'))]
      : []),
    ...untranslated(examined),
  ];
};

const found = (weight: Finding['weight'], message: string, why: string): Finding => ({
  rule: 'page',
  weight,
  path: 'page',
  message,
  why,
});

/** A setting that names a link field: it has to be one that is placed on the form. */
function linkField(examined: Examined, id: string, what: string): Finding[] {
  const field = examined.form.fields.get(id);
  if (field?.placed && linksOne(field.field)) return [];
  return [
    found(
      'must',
      say('{what} {examined}, which is no field on the form that links to one record.', {
        what,
        examined: called(examined, id),
      }),
      say('Choose a link field that is on the form.'),
    ),
  ];
}

/** Whether a field on the form holds an e-mail address. */
const isAddress = ({ form }: Examined, id: string): boolean => {
  const field = form.fields.get(id);
  return field?.placed === true && holdsAddress(field.field);
};

/** The texts that a language of the page lacks: whoever reads it in that language reads them as they are written. */
function untranslated({ definition, tables }: Examined): Finding[] {
  const texts = textsOf({ definition, tables });
  return Object.entries(definition.page?.translations ?? {}).flatMap(([language, given]) => {
    const lacking = texts.filter(({ text }) => !given[text]);
    const [first] = lacking;
    if (!first) return [];
    const [which, they] =
      lacking.length === 1
        ? [say('“{text}” is', { text: first.text }), say('It stays')]
        : [say('{count} texts are', { count: formatCount(lacking.length) }), say('They stay')];
    return [
      found(
        'look',
        say('{which} not given in {language}.', { which, language: languageName(language) }),
        say('{they} as written for whoever reads that language.', { they }),
      ),
    ];
  });
}
