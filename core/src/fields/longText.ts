import { sayLater } from '../languages/index.ts';
import { defineFieldType } from './fieldType.ts';
import { acceptText, checkText, textSettings } from './text.ts';

const MOST = 100_000;

export const longText = defineFieldType(textSettings, {
  name: 'longText',
  word: sayLater('long text'),
  family: 'text',
  group: 'Text',
  long: true,
  editable: true,
  column: () => 'text',
  parse: (typed) => acceptText(typed.replaceAll('\r\n', '\n'), MOST),
  accept: (json) => acceptText(json, MOST),
  format: String,
  check: checkText,
});
