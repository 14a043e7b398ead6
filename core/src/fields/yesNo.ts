import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { defineFieldType } from './fieldType.ts';
import { parsed, refused } from './value.ts';

const WORDS: Readonly<Record<string, boolean>> = {
  yes: true,
  y: true,
  true: true,
  '1': true,
  no: false,
  n: false,
  false: false,
  '0': false,
};

export const yesNo = defineFieldType(z.strictObject({}), {
  name: 'yesNo',
  word: sayLater('yes/no'),
  family: 'yesNo',
  group: 'Choices',
  whenBlank: () => say('Say yes or no.'),
  editable: true,
  column: () => 'boolean',
  parse: (typed) => {
    const word = typed.trim().toLowerCase();
    if (word === '') return parsed(null);
    const own = word === say('yes').toLowerCase() ? true : word === say('no').toLowerCase() ? false : undefined;
    const value = own ?? WORDS[word];
    return value === undefined ? refused(say('Type yes or no.')) : parsed(value);
  },
  accept: (json) =>
    json === null || typeof json === 'boolean' ? parsed(json) : refused(say('This must be yes or no.')),
  format: (value) => (value ? say('yes') : say('no')),
  check: () => [],
});
