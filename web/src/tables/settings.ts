import { fieldType, ROUNDING_WORDS, readItems, type Settings, writeItems } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
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

const least = (reads: SettingWords['reads'] = 'number', label = say('Least value')): SettingWords => ({
  key: 'least',
  label,
  none: 'any',
  reads,
});
const most = (reads: SettingWords['reads'] = 'number', label = say('Greatest value')): SettingWords => ({
  key: 'most',
  label,
  none: 'any',
  reads,
});
const rounding: SettingWords = {
  key: 'rounding',
  label: say('Calculations are rounded'),
  none: say(ROUNDING_WORDS.halfUp),
  reads: 'text',
  options: Object.entries(ROUNDING_WORDS).map(([value, label]) => ({ value, label: say(label) })),
};
const unit: SettingWords = { key: 'unit', label: say('Unit'), none: 'none', reads: 'text' };
const TEXT: readonly SettingWords[] = [
  { key: 'leastLength', label: say('Least length'), none: 'any', reads: 'number' },
  { key: 'mostLength', label: say('Greatest length'), none: 'any', reads: 'number' },
  {
    key: 'mask',
    label: say('Input mask'),
    none: 'none',
    hint: say('0 is a digit, A a letter, * either: AA-0000.'),
    reads: 'text',
  },
  {
    key: 'pattern',
    label: say('Pattern'),
    none: 'none',
    hint: say('A regular expression for the whole text, such as GS-\\d{4}.'),
    reads: 'text',
  },
  { key: 'patternMessage', label: say('Message of the pattern'), none: say('a plain message'), reads: 'text' },
];
const CHOICES: SettingWords = {
  key: 'choices',
  label: say('Choices'),
  none: say('none yet'),
  hint: say('Separated by commas; in quotes where a choice has a comma.'),
  reads: 'items',
};

const BY_TYPE: Readonly<Record<string, readonly SettingWords[]>> = {
  text: TEXT,
  longText: TEXT.slice(0, 2),
  wholeNumber: [least(), most(), unit],
  decimal: [least(), most(), unit],
  amount: [least('value'), most('value'), rounding],
  percent: [least(), most()],
  date: [least('value', say('Not before')), most('value', say('Not after'))],
  time: [least('value', say('Not before')), most('value', say('Not after'))],
  dateTime: [least('value', say('Not before')), most('value', say('Not after'))],
  choice: [CHOICES],
  choices: [
    CHOICES,
    { key: 'leastCount', label: say('Least number of choices'), none: 'none', reads: 'number' },
    { key: 'mostCount', label: say('Greatest number of choices'), none: 'all', reads: 'number' },
  ],
  attachments: [
    {
      key: 'kinds',
      label: say('Kinds of files'),
      none: 'any',
      reads: 'text',
      options: [
        { value: 'any', label: say('any') },
        { value: 'pictures', label: say('pictures') },
        { value: 'documents', label: say('pictures and PDFs') },
      ],
    },
    { key: 'largest', label: say('Largest file, in MB'), none: '25', reads: 'number' },
    { key: 'mostCount', label: say('Greatest number of files'), none: '100', reads: 'number' },
  ],
  rating: [{ key: 'most', label: say('Best rating'), none: '5', reads: 'number' }],
  links: [{ key: 'mostCount', label: say('Greatest number of links'), none: 'any', reads: 'number' }],
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
      ? say('{from} to {to}{after}', { from, to, after })
      : from !== undefined
        ? say('at least {from}{after}', { from, after })
        : to !== undefined
          ? say('at most {to}{after}', { to, after })
          : undefined;
  const calendar = fieldType(type).moments !== undefined;
  const [least, most] = [text('least'), type === 'rating' ? undefined : text('most')];
  return [
    text('unit'),
    calendar
      ? [least && say('from {least}', { least }), most && say('until {most}', { most })].filter(Boolean).join(' ')
      : range(least, most),
    range(text('leastLength'), text('mostLength'), ` ${say('characters')}`),
    text('mask') && say('mask {text}', { text: text('mask') ?? '' }),
    text('pattern') && say('pattern {text}', { text: text('pattern') ?? '' }),
    settings.level === undefined ? text('choices') : undefined,
    type === 'choices' ? range(text('leastCount'), text('mostCount'), ` ${say('chosen')}`) : undefined,
    text('rounding') && say('rounded {text}', { text: text('rounding') ?? '' }),
    type === 'attachments' ? text('kinds') : undefined,
    text('largest') && say('up to {text} MB', { text: text('largest') ?? '' }),
    ['attachments', 'links'].includes(type) && text('mostCount')
      ? say('at most {text}', { text: text('mostCount') ?? '' })
      : undefined,
  ].filter((words): words is string => words !== undefined && words !== '');
}
