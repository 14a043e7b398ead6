import { fieldType, ROUNDING_WORDS, readItems, type Settings, writeItems } from '@fiche/core/fields';
import { formatNumber } from '@fiche/core/office';

/** A setting of a field type that can be changed at any time: its label, and how its text is read. */
export interface SettingWords {
  readonly key: string;
  readonly label: string;
  /** What holds while nothing is set. */
  readonly none: string;
  readonly hint?: string;
  readonly reads: 'number' | 'text' | 'items' | 'value';
  /** The values that there are, where a person chooses one of them. */
  readonly options?: readonly { readonly value: string; readonly label: string }[];
}

const least = (reads: SettingWords['reads'] = 'number', label = 'Least value'): SettingWords => ({
  key: 'least',
  label,
  none: 'any',
  reads,
});
const most = (reads: SettingWords['reads'] = 'number', label = 'Greatest value'): SettingWords => ({
  key: 'most',
  label,
  none: 'any',
  reads,
});
const rounding: SettingWords = {
  key: 'rounding',
  label: 'Calculations are rounded',
  none: ROUNDING_WORDS.halfUp,
  reads: 'text',
  options: Object.entries(ROUNDING_WORDS).map(([value, label]) => ({ value, label })),
};
const unit: SettingWords = { key: 'unit', label: 'Unit', none: 'none', reads: 'text' };
const TEXT: readonly SettingWords[] = [
  { key: 'leastLength', label: 'Least length', none: 'any', reads: 'number' },
  { key: 'mostLength', label: 'Greatest length', none: 'any', reads: 'number' },
  {
    key: 'mask',
    label: 'Input mask',
    none: 'none',
    hint: '0 is a digit, A a letter, * either: AA-0000.',
    reads: 'text',
  },
  {
    key: 'pattern',
    label: 'Pattern',
    none: 'none',
    hint: 'A regular expression for the whole text, such as GS-\\d{4}.',
    reads: 'text',
  },
  { key: 'patternMessage', label: 'Message of the pattern', none: 'a plain message', reads: 'text' },
];
const CHOICES: SettingWords = {
  key: 'choices',
  label: 'Choices',
  none: 'none yet',
  hint: 'Separated by commas; in quotes where a choice has a comma.',
  reads: 'items',
};

const BY_TYPE: Readonly<Record<string, readonly SettingWords[]>> = {
  text: TEXT,
  longText: TEXT.slice(0, 2),
  wholeNumber: [least(), most(), unit],
  decimal: [least(), most(), unit],
  amount: [least('value'), most('value'), rounding],
  percent: [least(), most()],
  date: [least('value', 'Not before'), most('value', 'Not after')],
  time: [least('value', 'Not before'), most('value', 'Not after')],
  dateTime: [least('value', 'Not before'), most('value', 'Not after')],
  choice: [CHOICES],
  choices: [
    CHOICES,
    { key: 'leastCount', label: 'Least number of choices', none: 'none', reads: 'number' },
    { key: 'mostCount', label: 'Greatest number of choices', none: 'all', reads: 'number' },
  ],
  attachments: [
    {
      key: 'kinds',
      label: 'Kinds of files',
      none: 'any',
      reads: 'text',
      options: [
        { value: 'any', label: 'any' },
        { value: 'pictures', label: 'pictures' },
        { value: 'documents', label: 'pictures and PDFs' },
      ],
    },
    { key: 'largest', label: 'Largest file, in MB', none: '25', reads: 'number' },
    { key: 'mostCount', label: 'Greatest number of files', none: '100', reads: 'number' },
  ],
  rating: [{ key: 'most', label: 'Best rating', none: '5', reads: 'number' }],
  links: [{ key: 'mostCount', label: 'Greatest number of links', none: 'any', reads: 'number' }],
};

/** The settings of a type that can be changed at any time, in the order in which they are shown. */
export const settingsOf = (type: string, settings: Settings): readonly SettingWords[] =>
  (BY_TYPE[type] ?? []).filter(
    ({ key }) =>
      (key !== 'choices' || settings.level === undefined) &&
      (key !== 'patternMessage' || settings.pattern !== undefined),
  );

/** How a setting reads in a list, and the text that its input starts with. */
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

/** The settings that are not left at what holds anyway, in a few words each: `m`, `0.10 to 90.00`, `mask AA-0000`. */
export function setWords(type: string, settings: Settings): string[] {
  const text = (key: string): string | undefined => {
    const one = settingsOf(type, settings).find((other) => other.key === key);
    return (one && showSetting(type, settings, one).text) || undefined;
  };
  const range = (from: string | undefined, to: string | undefined, after = ''): string | undefined =>
    from !== undefined && to !== undefined
      ? `${from} to ${to}${after}`
      : from !== undefined
        ? `at least ${from}${after}`
        : to !== undefined
          ? `at most ${to}${after}`
          : undefined;
  const calendar = fieldType(type).moments !== undefined;
  const [least, most] = [text('least'), type === 'rating' ? undefined : text('most')];
  return [
    text('unit'),
    calendar ? [least && `from ${least}`, most && `until ${most}`].filter(Boolean).join(' ') : range(least, most),
    range(text('leastLength'), text('mostLength'), ' characters'),
    text('mask') && `mask ${text('mask')}`,
    text('pattern') && `pattern ${text('pattern')}`,
    settings.level === undefined ? text('choices') : undefined,
    type === 'choices' ? range(text('leastCount'), text('mostCount'), ' chosen') : undefined,
    text('rounding') && `rounded ${text('rounding')}`,
    type === 'attachments' ? text('kinds') : undefined,
    text('largest') && `up to ${text('largest')} MB`,
    ['attachments', 'links'].includes(type) && text('mostCount') ? `at most ${text('mostCount')}` : undefined,
  ].filter((words): words is string => words !== undefined && words !== '');
}
