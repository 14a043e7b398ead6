import { holdsAddress, linksOne } from '../fields/index.ts';
import { textsOf } from '../forms/index.ts';
import { languageName } from '../languages/index.ts';
import { formatCount } from '../office/index.ts';
import { type Check, called, type Examined, type Finding } from './finding.ts';

/** Settings of a public page that cannot hold: fields that are not on the form, and moments that leave no time. */
export const publicPages: Check = (examined) => {
  const { page } = examined.definition;
  if (!page) return [];
  const { who, when, atMostFor, locked = [], confirmation } = page;
  const { opens, closes } = when ?? {};
  return [
    ...(who?.kind === 'link' ? linkField(examined, who.fills, 'The personal link fills') : []),
    ...(atMostFor ? linkField(examined, atMostFor.field, 'The limit of answers counts by') : []),
    ...locked
      .filter((field) => !examined.form.fields.get(field)?.placed)
      .map((field) =>
        found('must', `${called(examined, field)} is locked on the public page and is not on the form.`, 'Unlock it.'),
      ),
    ...(confirmation && !isAddress(examined, confirmation.to)
      ? [
          found(
            'must',
            `The confirmation goes to ${called(examined, confirmation.to)}, which is no e-mail field on the form.`,
            'Choose a field that holds an e-mail address.',
          ),
        ]
      : []),
    ...(opens && closes && closes <= opens
      ? [found('must', 'The public page closes before it opens.', 'Nobody could send an answer.')]
      : []),
    ...(closes && closes <= examined.now && !(opens && closes <= opens)
      ? [found('look', 'The public page has closed already.', 'Nobody can send an answer.')]
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
      `${what} ${called(examined, id)}, which is no field on the form that links to one record.`,
      'Choose a link field that is on the form.',
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
        ? [`“${first.text}” is`, 'It stays']
        : [`${formatCount(lacking.length)} texts are`, 'They stay'];
    return [
      found(
        'look',
        `${which} not given in ${languageName(language)}.`,
        `${they} as written for whoever reads that language.`,
      ),
    ];
  });
}
