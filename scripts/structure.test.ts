import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { expect, test } from 'vitest';

const root = resolve(import.meta.dirname, '..');
const files = (folder: string): string[] =>
  readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' })
    .filter((name) => /\.tsx?$/.test(name) && !name.includes('.test.') && !name.includes('fixtures'))
    .map((name) => join(folder, name));

const importsOf = (file: string): string[] =>
  [
    ...readFileSync(join(root, file), 'utf8').matchAll(
      /^(?:import|export)\b[^;]*?from '([^']+)';|import\('([^']+)'\)/gm,
    ),
  ].map((found) => found[1] ?? found[2] ?? '');

/** `core/src/fields/text.ts` is of the feature `core/src/fields`; a file beside the features is a feature by itself. */
const featureOf = (file: string): string => file.split('/').slice(0, 3).join('/');
const target = (file: string, path: string): string => relative(root, resolve(root, dirname(file), path));

test('core computes only: nothing but schemas, expressions, patterns, catalogues, exact JSON, XML and D3’s arithmetic from outside, no Node or browser', () => {
  const foreign = files('core/src').flatMap((file) =>
    importsOf(file)
      .filter(
        (path) =>
          !path.startsWith('.') &&
          ![
            'zod',
            '@marcbachmann/cel-js',
            're2js',
            'lossless-json',
            'fast-xml-parser',
            'i18next',
            'd3-scale',
            'd3-shape',
            'd3-time',
          ].includes(path),
      )
      .map((path) => `${file}: ${path}`),
  );
  expect(foreign).toEqual([]);
  const globals = files('core/src').filter((file) =>
    /\b(document|window|process|fetch|localStorage)\b\s*[.(]/.test(readFileSync(join(root, file), 'utf8')),
  );
  expect(globals).toEqual([]);
});

test('imports run one way: web to core, server to core, and never between web and server', () => {
  const crossing = [...files('web/src'), ...files('server/src')].flatMap((file) =>
    importsOf(file)
      .filter(
        (path) =>
          (file.startsWith('web') ? /^@fiche\/(?!core)/.test(path) : /^@fiche\/(?!core)/.test(path)) ||
          (path.startsWith('.') && !target(file, path).startsWith(`${file.split('/')[0]}/`)),
      )
      .map((path) => `${file}: ${path}`),
  );
  expect(crossing).toEqual([]);
});

test('features reach one another through their index only', () => {
  const inner = ['core/src', 'server/src', 'web/src'].flatMap((side) =>
    files(side).flatMap((file) =>
      importsOf(file)
        .filter((path) => /^\..*\.tsx?$/.test(path))
        .filter(
          (path) =>
            featureOf(target(file, path)) !== featureOf(file) &&
            target(file, path).split('/').length > 3 &&
            !/\/index\.tsx?$/.test(path),
        )
        .map((path) => `${file}: ${path}`),
    ),
  );
  expect(inner).toEqual([]);
});

const SIDES = ['core/src', 'server/src', 'web/src'];

/** The circles of imports, each as the way around it; `nodeOf` says what a file belongs to. */
function circlesOf(nodeOf: (file: string) => string): string[] {
  const edges = new Map<string, Set<string>>();
  for (const file of SIDES.flatMap(files))
    for (const path of importsOf(file)) {
      const to = path.startsWith('@fiche/core/')
        ? nodeOf(`core/src/${path.slice(12)}/index.ts`)
        : path.startsWith('.')
          ? nodeOf(target(file, path))
          : '';
      if (to !== '' && to !== nodeOf(file)) edges.set(nodeOf(file), (edges.get(nodeOf(file)) ?? new Set()).add(to));
    }
  const circles: string[] = [];
  const done = new Set<string>();
  const visit = (node: string, trail: string[]): void => {
    if (trail.includes(node)) circles.push([...trail.slice(trail.indexOf(node)), node].join(' → '));
    if (done.has(node) || trail.includes(node)) return;
    for (const next of edges.get(node) ?? []) visit(next, [...trail, node]);
    done.add(node);
  };
  for (const node of edges.keys()) visit(node, []);
  return circles;
}

test('features never import in a circle', () => expect(circlesOf(featureOf)).toEqual([]));

test('files never import in a circle', () => expect(circlesOf((file) => file)).toEqual([]));

test('controls are MUI’s: raw elements stand in the parts of the interface only', () => {
  const raw = files('web/src')
    .filter((file) => file.endsWith('.tsx') && !file.startsWith('web/src/parts/'))
    .flatMap((file) =>
      [...readFileSync(join(root, file), 'utf8').matchAll(/<(button|input|select|textarea|table|progress)\b/g)].map(
        (found) => `${file}: ${found[0]}`,
      ),
    );
  expect(raw).toEqual([]);
});

/** Classes that a file takes by a computed name: what decides is data. */
const COMPUTED_CLASSES =
  /^(arcs\.(narrows|fills|shows|checks|calculates)|entryFields\.of\d|panel\.[nfsvc]|publicPage\.(card|plain|slate))$/;

test('styles lie beside their component: every class of a module is used, every class used is there', () => {
  const styles = readdirSync(join(root, 'web/src'), { recursive: true, encoding: 'utf8' }).filter((name) =>
    name.endsWith('.css'),
  );
  const modules = styles.filter((name) => name.endsWith('.module.css'));
  // Only the colours, the fonts and the bare elements hold everywhere.
  expect(styles.filter((name) => !modules.includes(name))).toEqual(['parts/tokens.css']);
  const names = modules.map((name) => name.replace(/^.*\//, '').replace('.module.css', ''));
  expect(new Set(names).size).toBe(names.length);
  const used = new Set(
    files('web/src').flatMap((file) =>
      [...readFileSync(join(root, file), 'utf8').matchAll(/\b(\w+)Css\.(\w+)/g)].map(
        (found) => `${found[1]}.${found[2]}`,
      ),
    ),
  );
  const there = new Set(
    modules.flatMap((name, at) =>
      [
        ...readFileSync(join(root, 'web/src', name), 'utf8')
          .replace(/\/\*.*?\*\/|:global\([^)]*\)|\{[^{}]*\}/gs, ' ')
          .matchAll(/\.([a-zA-Z]\w*)/g),
      ].map((found) => `${names[at]}.${found[1]}`),
    ),
  );
  expect([...used].filter((one) => !there.has(one))).toEqual([]);
  expect([...there].filter((one) => !used.has(one) && !COMPUTED_CLASSES.test(one))).toEqual([]);
});

/** Where a type is asked for by its name: what is read in a file, and the controls and words of one type’s settings. */
const NAMES_TYPES = [
  'core/src/imports/cell.ts',
  'web/src/inputs/DateInput.tsx',
  'web/src/tables/ChangeType.tsx',
  'web/src/tables/TypeControls.tsx',
  'web/src/tables/settings.ts',
];

test('what a type of field can do is asked of its traits, not of its name', () => {
  const types = readdirSync(join(root, 'core/src/fields'))
    .flatMap((name) => [...readFileSync(join(root, 'core/src/fields', name), 'utf8').matchAll(/^ {2}name: '(\w+)'/gm)])
    .map((found) => found[1]);
  expect(types.length).toBeGreaterThan(15);
  const asks = new RegExp(`\\btype [!=]== '(${types.join('|')})'`);
  const asking = SIDES.flatMap(files).filter(
    (file) => !file.startsWith('core/src/fields/') && asks.test(readFileSync(join(root, file), 'utf8')),
  );
  expect(asking).toEqual(NAMES_TYPES);
});
