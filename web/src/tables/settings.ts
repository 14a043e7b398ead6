import { fieldType, ROUNDING_WORDS, readItems, type Settings, writeItems } from '@fiche/core/fields';
import { formatNumber } from '@fiche/core/office';

/** A setting of a field type that a sentence can set: what stands before it, and how its text is read. */
interface SettingWords {
  readonly key: string;
  readonly before: string;
  readonly none: string;
  readonly label: string;
  readonly hint?: string;
  readonly reads: 'number' | 'text' | 'items' | 'value';
  /** The values that there are, where a person chooses one of them. */
  readonly options?: readonly { readonly value: string; readonly label: string }[];
}

const least = (reads: SettingWords['reads'] = 'number'): SettingWords => ({
  key: 'least',
  before: reads === 'value' ? ', not before ' : ', at least ',
  none: 'any',
  label: 'least value',
  reads,
});
const most = (reads: SettingWords['reads'] = 'number'): SettingWords => ({
  key: 'most',
  before: reads === 'value' ? ', not after ' : ', at most ',
  none: 'any',
  label: 'greatest value',
  reads,
});
const rounding: SettingWords = {
  key: 'rounding',
  before: ', calculations rounded ',
  none: ROUNDING_WORDS.halfUp,
  label: 'how calculations are rounded',
  reads: 'text',
  options: Object.entries(ROUNDING_WORDS).map(([value, label]) => ({ value, label })),
};
const unit: SettingWords = { key: 'unit', before: ', in ', none: 'no unit', label: 'unit', reads: 'text' };
const TEXT: readonly SettingWords[] = [
  { key: 'leastLength', before: ', of at least ', none: 'any', label: 'least length', reads: 'number' },
  { key: 'mostLength', before: ' and at most ', none: 'any', label: 'greatest length', reads: 'number' },
  {
    key: 'mask',
    before: ' characters, typed as ',
    none: 'any text',
    label: 'input mask',
    hint: '0 is a digit, A a letter, * either: AA-0000. Empty for any text.',
    reads: 'text',
  },
  {
    key: 'pattern',
    before: ', fitting the pattern ',
    none: 'none',
    label: 'pattern',
    hint: 'A regular expression for the whole text, such as GS-\\d{4}.',
    reads: 'text',
  },
  {
    key: 'patternMessage',
    before: ' (else: ',
    none: 'a plain message',
    label: 'message of the pattern',
    reads: 'text',
  },
];
const CHOICES: SettingWords = {
  key: 'choices',
  before: ' of ',
  none: 'no choices yet',
  label: 'choices',
  hint: 'With commas between; in quotes where a choice has a comma.',
  reads: 'items',
};

const BY_TYPE: Readonly<Record<string, readonly SettingWords[]>> = {
  text: TEXT,
  longText: TEXT.slice(0, 2),
  wholeNumber: [least(), most(), unit],
  decimal: [least(), most(), unit],
  amount: [{ ...least('value'), before: ', at least ' }, { ...most('value'), before: ', at most ' }, rounding],
  percent: [least(), most()],
  date: [least('value'), most('value')],
  time: [least('value'), most('value')],
  dateTime: [least('value'), most('value')],
  choice: [CHOICES],
  choices: [
    CHOICES,
    { key: 'leastCount', before: ', at least ', none: 'none', label: 'least number of choices', reads: 'number' },
    { key: 'mostCount', before: ', at most ', none: 'all', label: 'greatest number of choices', reads: 'number' },
  ],
  attachments: [
    {
      key: 'kinds',
      before: ' of ',
      none: 'any',
      label: 'kinds of files',
      hint: 'any, pictures, or documents (pictures and PDFs): found from what is in the file.',
      reads: 'text',
    },
    { key: 'largest', before: ' kind, up to ', none: '25', label: 'largest file in MB', reads: 'number' },
    { key: 'mostCount', before: ' MB each, at most ', none: '100', label: 'greatest number of files', reads: 'number' },
  ],
  rating: [{ key: 'most', before: ' from 1 to ', none: '5', label: 'best rating', reads: 'number' }],
  links: [{ key: 'mostCount', before: ', at most ', none: 'any number', label: 'greatest number', reads: 'number' }],
};

/** The settings that the sentence of a type sets, in the order in which it reads. */
export const settingsOf = (type: string, settings: Settings): readonly SettingWords[] =>
  (BY_TYPE[type] ?? []).filter(
    ({ key }) =>
      (key !== 'choices' || settings.level === undefined) &&
      (key !== 'patternMessage' || settings.pattern !== undefined),
  );

/** How a setting reads in its slot, and the text that its picker begins with. */
export function showSetting(
  type: string,
  settings: Settings,
  { key, none, reads, options }: SettingWords,
): { shown: string; text: string } {
  const value = settings[key];
  // The first of several is what holds where nobody has said otherwise.
  if (options && value === options[0]?.value) return { shown: none, text: '' };
  if (value === undefined || (Array.isArray(value) && value.length === 0)) return { shown: none, text: '' };
  if (reads === 'items') {
    const items = value as string[];
    return { shown: `${items.slice(0, 6).join(', ')}${items.length > 6 ? '…' : ''}`, text: writeItems(items) };
  }
  if (reads === 'value') {
    const text = fieldType(type).format(value as string, settings);
    return { shown: text, text };
  }
  const text =
    options?.find((one) => one.value === value)?.label ??
    (typeof value === 'number' ? formatNumber(value, String(value).split('.')[1]?.length ?? 0) : String(value));
  return { shown: text, text };
}

/** The settings with one of them as it was typed; an empty text takes it out. Throws what is wrong, in words. */
export function withSetting(type: string, settings: Settings, { key, reads }: SettingWords, text: string): Settings {
  const { [key]: _old, ...others } = settings;
  if (text.trim() === '') return others;
  if (reads === 'items') return { ...others, [key]: readItems(text) };
  if (reads === 'text') return { ...others, [key]: text.trim() };
  const read = fieldType(reads === 'number' ? 'decimal' : type).parse(
    text,
    reads === 'number' ? { places: 6 } : others,
  );
  if (!read.ok) throw new Error(read.message);
  return { ...others, [key]: read.value };
}
