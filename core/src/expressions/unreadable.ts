import { say, sayLater } from '../languages/index.ts';

/** What is wrong with an expression, and where in its text. */
export interface Unreadable {
  readonly wrong: string;
  readonly at: { readonly start: number; readonly end: number };
}

const TYPE_WORDS: readonly [RegExp, string][] = [
  [/\b(double|int)\b/g, sayLater('number')],
  [/\bstring\b/g, sayLater('text')],
  [/\bbool\b/g, sayLater('yes or no')],
  [/\bOf_\w+/g, sayLater('a record')],
];

/** What the reader of CEL says, in words for people. */
export function unreadable(error: unknown, source: string): Unreadable {
  const found = error as { message?: string; range?: { start: number; end: number } } | undefined;
  const first = found?.message?.split('\n')[0] ?? say('it is not an expression');
  const name = /^(?:Unknown variable|No such key|Unknown function): (.*)$/.exec(first)?.[1];
  const overload = /^(?:no such overload: |found no matching overload for ')([^']*)'?$/i.exec(first)?.[1];
  const start = Math.min(found?.range?.start ?? 0, source.length);
  const end = Math.max(start, found?.range?.end ?? source.length);
  const plainly = (text: string): string =>
    TYPE_WORDS.reduce((words, [type, word]) => words.replace(type, say(word)), text);
  const wrong =
    name !== undefined
      ? say('“{name}” is not a field or function here.', { name })
      : overload !== undefined
        ? overload.includes('(')
          ? say('There is no function {overload}.', { overload: plainly(overload) })
          : say('These do not go together: {overload}.', { overload: plainly(overload) })
        : (plainSyntax(first, source.slice(start, end)) ?? `${plainly(first)}.`);
  return { wrong, at: { start, end } };
}

const MISSING: Readonly<Record<string, string>> = {
  RPAREN: sayLater('A closing bracket “)” is missing.'),
  RBRACKET: sayLater('A closing bracket “]” is missing.'),
  RBRACE: sayLater('A closing bracket “}” is missing.'),
  COLON: sayLater('Write “:” and what it is otherwise: condition ? value : other value.'),
};

/** What is wrong with the syntax, in words that say what to write; `at` is the text where the parser stopped. */
function plainSyntax(message: string, at: string): string | undefined {
  const expected = /^Expected ([A-Z]+)/.exec(message)?.[1];
  if (expected === 'IDENTIFIER') return say('Name a field after the dot.');
  if (expected !== undefined) return say(MISSING[expected] ?? sayLater('Something is missing here.'));
  if (message.startsWith('Unterminated string')) return say('A closing quote is missing.');
  if (message === 'Unexpected token: EOF') return say('Something is missing at the end.');
  if (!message.startsWith('Unexpected')) return undefined;
  if (at === '=') return say('Compare with two equals signs: ==.');
  if (/^(and|or|not)$/i.test(at)) return say('Write && for and, || for or, ! for not.');
  if (at === '&' || at === '|') return say('Write it twice: {sign}{sign}.', { sign: at });
  if (/^[)\]}]$/.test(at)) return say('The bracket “{at}” was never opened.', { at });
  return /^[\p{L}_"']/u.test(at)
    ? say('A sign is missing before “{at}”, such as + or *.', { at })
    : say('“{at}” cannot stand here.', { at });
}
