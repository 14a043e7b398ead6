import { say } from '../languages/index.ts';

/**
 * Patterns of builders: regular expressions that are matched in time linear in the text (RE2), so that none can freeze a
 * server or a browser. The engine is loaded when it is first needed; a page without patterns does without it.
 */
type Matcher = (text: string) => boolean;
let compile: ((source: string) => Matcher) | undefined;

/** Compiled patterns by their source, of which so many are kept. */
const known = new Map<string, Matcher | { readonly wrong: string }>();
const MOST_KNOWN = 500;
/** Longer patterns, and those that unfold to more, are refused. */
const LONGEST = 500;

/** Loads the engine. To be awaited before anything matches a pattern. */
export async function loadPatterns(): Promise<void> {
  if (compile) return;
  const { RE2JS } = await import('re2js');
  compile = (source) => {
    const pattern = RE2JS.compile(RE2JS.translateRegExp(source));
    return (text) => pattern.matches(text);
  };
}

function compiled(source: string): Matcher | { readonly wrong: string } {
  if (!compile) throw new Error('A pattern was matched before loadPatterns() was awaited');
  const before = known.get(source);
  if (before) return before;
  const made = read(compile, source);
  if (known.size >= MOST_KNOWN) known.clear();
  known.set(source, made);
  return made;
}

function read(make: (source: string) => Matcher, source: string): Matcher | { readonly wrong: string } {
  if (source.length > LONGEST)
    return { wrong: say('A pattern has at most {longest} characters.', { longest: LONGEST }) };
  try {
    return make(source);
  } catch {
    return { wrong: wordsFor(source) };
  }
}

/** What a pattern has that cannot be matched in linear time, and what to write instead. */
function wordsFor(source: string): string {
  if (/\(\?<?[=!]/.test(source))
    return say(
      'A pattern cannot look ahead or behind, as with (?=…). Write out what the whole text may be, or use a rule.',
    );
  if (/\\[1-9]/.test(source))
    return say('A pattern cannot refer back to a group, as with \\1. Compare two fields with a rule instead.');
  if (/\{\d{4,}|\{\d*,\d{4,}/.test(source))
    return say('A pattern repeats at most 1,000 times. Use a limit on the length instead.');
  return say('This pattern is not a valid regular expression. Look for a bracket that is not closed.');
}

/**
 * Why a pattern cannot be read, with a proposal; undefined when it can, and where the engine is not loaded, since then
 * nobody is making one.
 */
export function patternMisfit(source: string): string | undefined {
  if (!compile) return undefined;
  const made = compiled(source);
  return typeof made === 'function' ? undefined : made.wrong;
}

/**
 * Whether a pattern matches the whole of a text. One that cannot be read, of an older version, refuses nothing: the check
 * of every form that shows its field says so.
 */
export function matchesPattern(source: string, text: string): boolean {
  const made = compiled(source);
  return typeof made === 'function' ? made(text) : true;
}
