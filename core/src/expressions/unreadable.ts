/** What is wrong with an expression, and where in its text. */
export interface Unreadable {
  readonly wrong: string;
  readonly at: { readonly start: number; readonly end: number };
}

const TYPE_WORDS: readonly [RegExp, string][] = [
  [/\b(double|int)\b/g, 'number'],
  [/\bstring\b/g, 'text'],
  [/\bbool\b/g, 'yes or no'],
  [/\bOf_\w+/g, 'a record'],
];

/** What the reader of CEL says, in words for people. */
export function unreadable(error: unknown, source: string): Unreadable {
  const found = error as { message?: string; range?: { start: number; end: number } } | undefined;
  const first = found?.message?.split('\n')[0] ?? 'it is not an expression';
  const name = /^(?:Unknown variable|No such key|Unknown function): (.*)$/.exec(first)?.[1];
  const overload = /^(?:no such overload: |found no matching overload for ')([^']*)'?$/i.exec(first)?.[1];
  const start = Math.min(found?.range?.start ?? 0, source.length);
  const end = Math.max(start, found?.range?.end ?? source.length);
  const plainly = (text: string): string => TYPE_WORDS.reduce((words, [type, word]) => words.replace(type, word), text);
  const wrong =
    name !== undefined
      ? `“${name}” is not a field or function here.`
      : overload !== undefined
        ? overload.includes('(')
          ? `There is no function ${plainly(overload)}.`
          : `These do not go together: ${plainly(overload)}.`
        : (plainSyntax(first, source.slice(start, end)) ?? `${plainly(first)}.`);
  return { wrong, at: { start, end } };
}

const MISSING: Readonly<Record<string, string>> = {
  RPAREN: 'A closing bracket “)” is missing.',
  RBRACKET: 'A closing bracket “]” is missing.',
  RBRACE: 'A closing bracket “}” is missing.',
  COLON: 'Write “:” and what it is otherwise: condition ? value : other value.',
};

/** What is wrong with the syntax, in words that say what to write; `at` is the text where the parser stopped. */
function plainSyntax(message: string, at: string): string | undefined {
  const expected = /^Expected ([A-Z]+)/.exec(message)?.[1];
  if (expected === 'IDENTIFIER') return 'Name a field after the dot.';
  if (expected !== undefined) return MISSING[expected] ?? 'Something is missing here.';
  if (message.startsWith('Unterminated string')) return 'A closing quote is missing.';
  if (message === 'Unexpected token: EOF') return 'Something is missing at the end.';
  if (!message.startsWith('Unexpected')) return undefined;
  if (at === '=') return 'Compare with two equals signs: ==.';
  if (/^(and|or|not)$/i.test(at)) return 'Write && for and, || for or, ! for not.';
  if (at === '&' || at === '|') return `Write it twice: ${at}${at}.`;
  if (/^[)\]}]$/.test(at)) return `The bracket “${at}” was never opened.`;
  return /^[\p{L}_"']/u.test(at) ? `A sign is missing before “${at}”, such as + or *.` : `“${at}” cannot stand here.`;
}
