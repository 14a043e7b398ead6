// The texts that the program says, found in its sources. Run alone, it writes languages/en.json: what a translator begins with.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';

const root = resolve(import.meta.dirname, '..');
const TEXT = String.raw`('(?:[^'\\]|\\.)*'|"(?:[^"\\]|\\.)*")`;
const SAID = new RegExp(String.raw`\bsay(?:With)?\(\s*${TEXT}`, 'g');
/** Labels of kinds, which are said where they are shown. */
const LATER = new RegExp(String.raw`\bsayLater\(\s*${TEXT}`, 'g');
const COUNTED = new RegExp(String.raw`\bsayCount\(\s*(?:[^,'"()]|\([^()]*\))+,\s*${TEXT},\s*${TEXT}`, 'g');
/** What a thread says is put into the language of its reader where it is told. */
const TOLD = new RegExp(String.raw`\bnew Wrong\(\s*${TEXT}\s*,?\s*\)`, 'g');

const bare = (literal) =>
  literal
    .slice(1, -1)
    .replaceAll(/\\(u[0-9a-f]{4}|.)/g, (_all, one) =>
      one.length > 1 ? String.fromCharCode(Number.parseInt(one.slice(1), 16)) : one === 'n' ? '\n' : one,
    );

const filesOf = (side) =>
  readdirSync(join(root, side), { recursive: true, encoding: 'utf8' })
    .filter((name) => /\.tsx?$/.test(name) && !name.includes('.test.') && !name.endsWith('languages/say.ts'))
    .map((name) => `${side}/${name}`);

/**
 * The keys of all texts that are said in the files that `wanted` takes, as a catalogue has them: a text that depends on a number
 * with `_one` and `_other` behind it. Each with its English words. Without `later` those that are only marked with `sayLater`, labels of
 * kinds that the office alone reads, are left out.
 */
export function textsIn(wanted = () => true, { later = true } = {}) {
  const texts = new Map();
  for (const file of ['core/src', 'server/src', 'web/src'].flatMap(filesOf).filter(wanted)) {
    const source = readFileSync(join(root, file), 'utf8');
    const said = [...source.matchAll(SAID), ...source.matchAll(TOLD), ...(later ? source.matchAll(LATER) : [])];
    for (const [, text] of said) texts.set(bare(text), bare(text));
    for (const [, one, several] of source.matchAll(COUNTED)) {
      texts.set(`${bare(several)}_one`, bare(one));
      texts.set(`${bare(several)}_other`, bare(several));
    }
  }
  return texts;
}

/** The file that a translator begins with. */
export const EN = join(root, 'languages/en.json');

/** What stands in it: all texts in order, each as its own translation. */
export const englishCatalogue = () =>
  `${JSON.stringify(Object.fromEntries([...textsIn()].sort(([a], [b]) => (a < b ? -1 : 1))), null, 2)}\n`;

if (process.argv[1] === import.meta.filename) writeFileSync(EN, englishCatalogue());
