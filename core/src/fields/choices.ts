import { z } from 'zod';
import { say, sayLater, sayOwn } from '../languages/index.ts';
import { isCalled } from './choice.ts';
import { defineFieldType } from './fieldType.ts';
import { itemsOf, readItems, writeItems } from './several.ts';
import { acceptText } from './text.ts';
import { type Parsed, parsed, refused } from './value.ts';

const settings = z.strictObject({
  choices: z.array(z.string().min(1).max(200)).max(500).default([]),
  leastCount: z.int().min(0).max(100).optional(),
  mostCount: z.int().min(1).max(100).optional(),
});
type ChoicesSettings = z.infer<typeof settings>;

const MOST = 100;

function accept(json: unknown): Parsed {
  if (json === null) return parsed(null);
  if (!Array.isArray(json)) return refused(say('This must be a list of choices.'));
  const words: string[] = [];
  for (const one of json) {
    const read = acceptText(one, 200);
    if (!read.ok) return read;
    if (typeof read.value === 'string' && !words.includes(read.value)) words.push(read.value);
  }
  if (words.length > MOST) return refused(say('At most {most} choices fit.', { most: MOST }));
  return parsed(words.length === 0 ? null : words);
}

const known = (word: string, choices: readonly string[]): string => choices.find((one) => isCalled(one, word)) ?? word;

/** Several of the field's own choices. */
export const choices = defineFieldType(settings, {
  name: 'choices',
  word: sayLater('choices (several)'),
  family: 'choices',
  group: 'Choices',
  words: 'several',
  whenBlank: () => say('Choose one.'),
  starting: () => ({ choices: [] }),
  editable: true,
  column: () => 'text[]',
  parse: (typed, s) => accept(readItems(typed).map((word) => known(word, s.choices))),
  accept,
  format: (value) => writeItems(itemsOf(value).map((word) => sayOwn(String(word)))),
  check: (value, s: ChoicesSettings) => {
    const words = itemsOf(value);
    const wrong = words.find((word) => !s.choices.includes(String(word)));
    if (wrong !== undefined)
      return [
        {
          rule: 'choice',
          message: say('“{value}” is not one of the choices. Choose from the list.', { value: wrong }),
        },
      ];
    if (s.leastCount !== undefined && words.length < s.leastCount)
      return [{ rule: 'least', message: say('Choose at least {least}.', { least: s.leastCount }) }];
    if (s.mostCount !== undefined && words.length > s.mostCount)
      return [{ rule: 'most', message: say('Choose at most {most}.', { most: s.mostCount }) }];
    return [];
  },
});
