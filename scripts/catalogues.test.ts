import { readdirSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseAst } from 'vite';
import { expect, test } from 'vitest';
import { EN, englishCatalogue, textsIn } from './texts.mjs';

const root = resolve(import.meta.dirname, '..');
const catalogueFolder = join(root, 'core/src/languages/catalogues');
const catalogues = readdirSync(catalogueFolder).map((name) => ({
  name,
  texts: JSON.parse(readFileSync(join(catalogueFolder, name), 'utf8')) as Record<string, string>,
}));

/** What a public page is made of: what is said there is in each catalogue that ships. */
const PUBLIC =
  /^(core\/src\/(entry|fields|pages(?!\/words))|web\/src\/(entry(?!\/WhySheet)|inputs|publicpage)|server\/src\/public)\//;

const keys = [...textsIn().keys()];
const publicKeys = [...textsIn((file) => PUBLIC.test(file), { later: false }).keys()];

const placesOf = (text: string): string[] => [...text.matchAll(/\{\w+\}/g)].map((place) => place[0]).sort();

test('texts are found where they are said', () => {
  expect(keys.length).toBeGreaterThan(2_500);
  expect(publicKeys.length).toBeGreaterThan(150);
  expect(keys.filter((key) => key.endsWith('_one')).length).toBeGreaterThan(50);
});

test('the list that a translator begins with has every text: node scripts/texts.mjs writes it', () => {
  expect(readFileSync(EN, 'utf8')).toBe(englishCatalogue());
});

test.each(catalogues)('$name has every text that is said on a public page, and none that is not said', ({ texts }) => {
  expect(publicKeys.filter((key) => !texts[key])).toEqual([]);
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

interface Node {
  readonly type: string;
  readonly start: number;
  readonly [key: string]: unknown;
}
const isNode = (value: unknown): value is Node => typeof (value as { type?: unknown } | null)?.type === 'string';
const hasWords = (text: unknown): boolean => typeof text === 'string' && /[A-Za-z]{2}/.test(text);
const nameOf = (node: unknown): string => String((node as { name?: unknown } | undefined)?.name ?? '');

/** Attributes that people read, or hear. */
const READ =
  /^(label|title|help|helperText|placeholder|heading|alt|aria-(label|description|roledescription|valuetext))$/;

/** A whole sentence: people read it, wherever it stands in the code. */
const SENTENCE = /^(?![A-Z]{3,} )[A-Z“].*[a-z]{2,} .*[a-z]{2,}.*[.…?]$/s;

/** What no screen shows: commands, mail, what is kept in the ledger, reasons that tests and other code are given. */
const NOT_SHOWN =
  /^server\/src\/(main|verifyLedger|openApi|apiDocs|languages\/office|history\/(captured|mailReceipts)|messages\/(mailSettings|sending)|scanning|spam|accounts\/(samples|firstAdministrator|seenAs)|access\/matrix|answers\/eraseOld|monitoring)|^core\/src\/(messages\/mail|api|languages|print\/paper)/;

/** Properties whose value is shown. */
const SHOWN_PROPERTY = /^(message|why|label|detail|shown|hint|heading|about|placeholder|lead)$/;

const SAYING = /^(say|sayCount|sayWith|sayLater)$/;

/**
 * The texts in a file that go past `say`: what stands between tags, in an attribute that is read, in a refusal, as the message of a
 * problem, and every whole sentence, apart from errors that only we read.
 */
function unsaid(file: string): string[] {
  const source = readFileSync(join(root, file), 'utf8');
  const found: string[] = [];
  const note = (node: Node): void => {
    const line = source.slice(0, node.start).split('\n').length;
    found.push(`${file}:${line} ${source.slice(node.start, node.start + 60).split('\n')[0]}`);
  };
  const literal = (value: unknown): boolean =>
    isNode(value) &&
    ((value.type === 'Literal' && hasWords(value.value)) ||
      (value.type === 'TemplateLiteral' &&
        /[A-Za-z]{2} [A-Za-z]/.test(source.slice(value.start, value.end as number))) ||
      (value.type === 'JSXExpressionContainer' && literal(value.expression)));
  const visit = (node: Node): void => {
    if (node.type === 'CallExpression' && SAYING.test(nameOf(node.callee))) {
      // What stands in the places of a text is said, too.
      for (const one of node.arguments as unknown[]) if (isNode(one) && one.type !== 'Literal') visit(one);
      return;
    }
    // Through what something came is kept in the ledger in English, and said from there.
    if (node.type === 'Property' && nameOf(node.key) === 'through') return;
    // What a builder can say in other words is theirs: `.default('Thank you.')`.
    if (node.type === 'CallExpression' && nameOf((node.callee as Node).property) === 'default') return;
    if (node.type === 'NewExpression' && nameOf(node.callee) === 'Error') return;
    if (node.type === 'Literal' && typeof node.value === 'string' && SENTENCE.test(node.value)) note(node);
    if (node.type === 'Property' && SHOWN_PROPERTY.test(nameOf(node.key)) && literal(node.value)) note(node);
    if (node.type === 'JSXText' && hasWords(node.value)) note(node);
    if (node.type === 'JSXElement' && /^(code|kbd)$/.test(nameOf((node.openingElement as Node).name))) return;
    if (node.type === 'JSXAttribute' && READ.test(nameOf(node.name)) && literal(node.value)) note(node);
    if (node.type === 'NewExpression' && nameOf(node.callee) === 'Refusal' && literal((node.arguments as unknown[])[1]))
      note(node);
    for (const value of Object.values(node))
      for (const one of Array.isArray(value) ? value : [value]) if (isNode(one)) visit(one);
  };
  visit(parseAst(source, { lang: file.endsWith('x') ? 'tsx' : 'ts' }) as unknown as Node);
  return found;
}

test('what people read is said by the catalogues: on screens, in refusals, in what is found', () => {
  const files = ['core/src', 'web/src', 'server/src'].flatMap((side) =>
    readdirSync(join(root, side), { recursive: true, encoding: 'utf8' })
      .filter((name) => /\.tsx?$/.test(name) && !/\.test\.|\.d\.ts$|fixtures|examples/.test(name))
      .map((name) => `${side}/${name}`)
      .filter((name) => !NOT_SHOWN.test(name)),
  );
  expect(files.flatMap(unsaid)).toEqual([]);
});
