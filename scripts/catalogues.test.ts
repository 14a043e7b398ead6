import { readdirSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { expect, test } from 'vitest';

const root = resolve(import.meta.dirname, '..');
const catalogueFolder = join(root, 'core/src/languages/catalogues');
const catalogues = readdirSync(catalogueFolder).map((name) => ({
  name,
  texts: JSON.parse(readFileSync(join(catalogueFolder, name), 'utf8')) as Record<string, string>,
}));

const sources = ['core/src', 'server/src', 'web/src'].flatMap((side) =>
  readdirSync(join(root, side), { recursive: true, encoding: 'utf8' })
    .filter((name) => /\.tsx?$/.test(name) && !name.includes('.test.') && !name.endsWith('languages/say.ts'))
    .map((name) => readFileSync(join(root, side, name), 'utf8')),
);

const TEXT = String.raw`'((?:[^'\\]|\\.)*)'`;
const bare = (text: string | undefined): string => (text ?? '').replaceAll("\\'", "'");
const found = (pattern: string, group: number): string[] =>
  sources.flatMap((source) => [...source.matchAll(new RegExp(pattern, 'g'))].map((one) => bare(one[group])));

/** The texts that the program says, and those whose words depend on a number. */
const said = new Set(found(String.raw`\bsay\(\s*${TEXT}`, 1));
const counted = new Set(found(String.raw`\bsayCount\(\s*[^,]+,\s*${TEXT},\s*${TEXT}`, 2));
const keys = [...said, ...[...counted].flatMap((text) => [`${text}_one`, `${text}_other`])];

const placesOf = (text: string): string[] => [...text.matchAll(/\{\w+\}/g)].map((place) => place[0]).sort();

test('texts are found where they are said', () => {
  expect(said.size).toBeGreaterThan(150);
  expect(counted.size).toBeGreaterThan(10);
});

test.each(catalogues)('$name has every text that is said, and no other', ({ texts }) => {
  expect(keys.filter((key) => !texts[key])).toEqual([]);
  expect(Object.keys(texts).filter((key) => !keys.includes(key))).toEqual([]);
});

test.each(catalogues)(
  '$name keeps the places of every text; one of something need not tell the number',
  ({ texts }) => {
    const wrong = Object.entries(texts).filter(([key, text]) => {
      const meant = placesOf(key.replace(/_(one|other)$/, ''));
      const own = placesOf(text);
      const without = meant.filter((place) => place !== '{count}');
      return String(own) !== String(meant) && !(key.endsWith('_one') && String(own) === String(without));
    });
    expect(wrong).toEqual([]);
  },
);
