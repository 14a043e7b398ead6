import { z } from 'zod';
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
  word: 'yes/no',
  family: 'yesNo',
  group: 'Choices',
  whenBlank: 'Say yes or no.',
  editable: true,
  column: () => 'boolean',
  parse: (typed) => {
    const word = typed.trim().toLowerCase();
    if (word === '') return parsed(null);
    const value = WORDS[word];
    return value === undefined ? refused('Type yes or no.') : parsed(value);
  },
  accept: (json) => (json === null || typeof json === 'boolean' ? parsed(json) : refused('This must be yes or no.')),
  format: (value) => (value ? 'yes' : 'no'),
  check: () => [],
});
