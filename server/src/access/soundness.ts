import type { Problem } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';

/** Deeper nesting than any definition has; what reads it recursively must not run out of stack. */
const DEEPEST = 80;
/** U+0000, which PostgreSQL's text cannot hold, and halves of surrogate pairs, which are no character. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: it is what is looked for.
const UNSTORABLE = /\u0000|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

/**
 * What makes a request unreadable wherever it goes: text that cannot be stored, in keys or values, and nesting beyond
 * all bounds. `undefined` when it is sound. Walks without recursion.
 */
export function unsoundPart(sent: unknown): Problem | undefined {
  const open: { part: unknown; path: string; depth: number }[] = [{ part: sent, path: '', depth: 0 }];
  for (let next = open.pop(); next; next = open.pop()) {
    const { part, path, depth } = next;
    if (typeof part === 'string' && UNSTORABLE.test(part))
      return { path, rule: 'text', message: say('This text has a character that cannot be stored. Type it again.') };
    if (typeof part !== 'object' || part === null) continue;
    if (depth >= DEEPEST)
      return {
        path: path.slice(0, 200),
        rule: 'depth',
        message: say('This is nested more than {deepest} deep.', { deepest: DEEPEST }),
      };
    for (const [key, value] of Object.entries(part)) {
      if (UNSTORABLE.test(key))
        return { path, rule: 'text', message: say('A name has a character that cannot be stored. Send it without.') };
      open.push({ part: value, path: path === '' ? key : `${path}.${key}`, depth: depth + 1 });
    }
  }
  return undefined;
}
