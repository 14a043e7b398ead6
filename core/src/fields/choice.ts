import { z } from 'zod';
import { say, sayLater, sayOwn } from '../languages/index.ts';
import { defineFieldType } from './fieldType.ts';
import { acceptText } from './text.ts';

const settings = z.strictObject({
  /** The choices of a field that keeps its own; empty when they come from an option list. */
  choices: z.array(z.string().min(1).max(200)).max(500).default([]),
  /** A level of an option list: the table of combinations, and the level's column in it. */
  level: z.strictObject({ table: z.string(), column: z.string() }).optional(),
});

const MOST = 200;

/** Whether a word is what was typed: by itself, or as its reader has it. */
export const isCalled = (word: string, typed: string): boolean =>
  [word, sayOwn(word)].some((one) => one.toLowerCase() === typed.toLowerCase());

export const choice = defineFieldType(settings, {
  name: 'choice',
  word: sayLater('choice'),
  family: 'text',
  group: 'Choices',
  words: 'one',
  whenBlank: () => say('Choose one.'),
  starting: () => ({ choices: [] }),
  editable: true,
  column: () => 'text',
  parse: (typed, { choices }) => {
    const same = choices.find((one) => isCalled(one, typed.trim()));
    return acceptText(same ?? typed, MOST);
  },
  accept: (json) => acceptText(json, MOST),
  format: (value) => sayOwn(String(value)),
  check: (value, { choices, level }) =>
    level || value === null || choices.includes(String(value))
      ? []
      : [
          {
            rule: 'choice',
            message: say('“{value}” is not one of the choices. Choose one of the list.', { value: String(value) }),
          },
        ],
});
