import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { writeItems } from '../fields/index.ts';
import { say } from '../languages/index.ts';

/** Elements deeper than this are no list of records. */
const DEEPEST = 30;
/** Between the names of nested elements, in the name of a column. */
const SEPARATOR = ' ';

/** XML that is not read, with what is wrong in words for the person who has it. */
export class UnreadableXml extends Error {}

interface Element {
  readonly name: string;
  readonly attributes: readonly (readonly [name: string, value: string])[];
  readonly text: string;
  readonly children: readonly Element[];
}

/** A list of records in a document: what its elements are called, from the outermost in, and the records as rows of named texts. */
export interface XmlList {
  readonly name: string;
  readonly records: readonly Readonly<Record<string, string>>[];
}

/**
 * The lists of records in XML text (W3C XML 1.0), the outermost first. A record is an element that stands beside others of
 * its name; its values are its attributes, the texts of the elements in it, and several elements of one name as a list. Records in
 * records are a list of their own, whose rows begin with the values of the record around them, so that they find it again.
 * Throws UnreadableXml, also for a document that defines entities or names files.
 */
export function xmlLists(text: string): XmlList[] {
  const plain = text.replace(/^\ufeff/, '');
  refuseDefinitions(plain);
  const broken = XMLValidator.validate(plain, { allowBooleanAttributes: true });
  if (broken !== true)
    throw new UnreadableXml(
      say(
        'This is not XML, or it is cut off: it breaks at line {line}, character {col}. Correct it there and send it again.',
        { line: broken.err.line, col: broken.err.col },
      ),
    );
  const root = parsed(plain);
  const lists: Lists = new Map();
  const kinds = kindsOf(root);
  if ([...kinds.values()].every((kind) => kind !== 'record')) kinds.set(root.name, 'record');
  collect([root], root.name, kinds, lists, []);
  const found = [...lists]
    .map(([name, records]) => ({ name, records }))
    .filter((list) => list.records.some((record) => Object.keys(record).length > 0));
  if (found.length === 0)
    throw new UnreadableXml(
      say(
        'This XML has no list of records. It must have an element for each, such as <berth><number>A-1</number></berth>.',
      ),
    );
  return found;
}

/** Refuses what makes a document grow, or reach outside, while it is read: entities of its own and external files. */
function refuseDefinitions(text: string): void {
  const root = text.search(/<[A-Za-z_]/);
  const before = text.slice(0, root < 0 ? text.length : root);
  const at = before.indexOf('<!DOCTYPE');
  if (at < 0) return;
  // A definition may itself contain what looks like an element: all of what follows is looked at.
  if (/^<!DOCTYPE\s+[\w:.-]+\s*>/.test(text.slice(at))) return;
  throw new UnreadableXml(
    say(
      'This XML defines entities of its own, or names a file outside of it. That is not read. Save it without its document type, and send it again.',
    ),
  );
}

const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '',
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: false,
  processEntities: false,
  ignoreDeclaration: true,
  ignorePiTags: true,
  cdataPropName: '#cdata',
});

type Ordered = Readonly<Record<string, unknown>>;

function parsed(text: string): Element {
  const found = (parser.parse(text) as Ordered[]).map((node) => elementOf(node, 0)).find((one) => one !== undefined);
  if (!found) throw new UnreadableXml(say('This XML is empty. Choose a file that has records.'));
  return found;
}

function elementOf(node: Ordered, depth: number): Element | undefined {
  if (depth > DEEPEST)
    throw new UnreadableXml(
      say('Elements stand more than {DEEPEST} deep in one another here. That is no list of records.', { DEEPEST }),
    );
  const name = Object.keys(node).find((key) => key !== ':@');
  if (name === undefined || name.startsWith('#')) return undefined;
  const inner = node[name] as readonly Ordered[];
  const attributes = Object.entries((node[':@'] ?? {}) as Record<string, unknown>);
  const textIn = (one: Ordered): string =>
    '#cdata' in one
      ? (((one['#cdata'] as readonly Ordered[])[0]?.['#text'] as string | undefined)?.toString() ?? '')
      : '#text' in one
        ? decoded(String(one['#text']))
        : '';
  return {
    name,
    attributes: attributes.flatMap(([key, value]) =>
      key.startsWith('xmlns') ? [] : [[key, decoded(String(value)).trim()] as const],
    ),
    text: inner.map(textIn).join('').trim(),
    children: inner.flatMap((one) => elementOf(one, depth + 1) ?? []),
  };
}

const ENTITIES: Readonly<Record<string, string>> = { lt: '<', gt: '>', amp: '&', quot: '"', apos: "'" };

/** Text with the five entities of XML, and characters by their numbers, in place of what stands for them. */
const decoded = (text: string): string =>
  text.replaceAll(/&(?:#x([0-9a-f]{1,6})|#(\d{1,7})|(\w+));/gi, (whole, hex, decimal, name) => {
    const code = hex ? Number.parseInt(hex, 16) : decimal ? Number(decimal) : undefined;
    if (code !== undefined) return code <= 0x10ffff ? String.fromCodePoint(code) : whole;
    return ENTITIES[String(name)] ?? whole;
  });

const isLeaf = (one: Element): boolean => one.children.length === 0;

/** What elements are by their path: records of a list, several values of one field, or parts of what is around them. */
type Kind = 'record' | 'values' | 'part';

function kindsOf(root: Element): Map<string, Kind> {
  const repeated = new Set<string>();
  const within = new Map<string, Set<string>>();
  const branching = new Set<string>();
  const visit = (one: Element, path: string): void => {
    const counts = new Map<string, number>();
    for (const child of one.children) counts.set(child.name, (counts.get(child.name) ?? 0) + 1);
    for (const [name, count] of counts) {
      const at = `${path}/${name}`;
      within.set(path, new Set([...(within.get(path) ?? []), at]));
      if (count > 1) repeated.add(at);
    }
    for (const child of one.children) {
      const at = `${path}/${child.name}`;
      if (!isLeaf(child) || child.attributes.length > 0) branching.add(at);
      visit(child, at);
    }
  };
  visit(root, root.name);
  const kinds = new Map<string, Kind>();
  for (const [path, inner] of within)
    for (const at of inner) {
      // What stands right in the root is a list of records, even where there is one only.
      const list = repeated.has(at) || (path === root.name && inner.size === 1);
      kinds.set(
        at,
        !list && !isValuesOf(at, inner, path, within)
          ? 'part'
          : branching.has(at) || (list && path === root.name)
            ? 'record'
            : 'values',
      );
    }
  return kinds;
}

/** Whether an element alone in the one around it is one value of several: as `item` is written. */
const isValuesOf = (
  at: string,
  inner: ReadonlySet<string>,
  path: string,
  within: ReadonlyMap<string, ReadonlySet<string>>,
): boolean => inner.size === 1 && at === `${path}/item` && !within.has(at);

type Row = Record<string, string>;
/** The rows of each list by its name, in the order in which the lists begin. */
type Lists = Map<string, Row[]>;

/** Collects the lists among some elements of one path; `enclosing` has the names and the values of the records around them. */
function collect(
  elements: readonly Element[],
  path: string,
  kinds: ReadonlyMap<string, Kind>,
  lists: Lists,
  enclosing: readonly (readonly [string, Row])[],
): void {
  const record = kinds.get(path) === 'record';
  const name = path.split('/').at(-1) ?? '';
  const rows = record ? elements.map((one) => valuesIn(one, path, kinds)) : [];
  if (record) {
    const title = [...enclosing.map(([of]) => of), name].filter((one, at, all) => all.indexOf(one) === at).join(' › ');
    const outer = Object.assign({}, ...enclosing.map(([of, row]) => prefixed(of, row))) as Row;
    const list = lists.get(title) ?? [];
    lists.set(title, list);
    for (const row of rows) list.push({ ...outer, ...row });
  }
  elements.forEach((one, at) => {
    const next = record ? [...enclosing, [name, rows[at] ?? {}] as const] : enclosing;
    for (const inner of new Set(one.children.map((child) => child.name)))
      collect(
        one.children.filter((child) => child.name === inner),
        `${path}/${inner}`,
        kinds,
        lists,
        next,
      );
  });
}

const prefixed = (of: string, row: Row): Row =>
  Object.fromEntries(Object.entries(row).map(([name, value]) => [`${of}${SEPARATOR}${name}`, value]));

/** The values of one record: attributes, texts, lists of values, and the parts of it that are no records of their own. */
function valuesIn(one: Element, path: string, kinds: ReadonlyMap<string, Kind>): Row {
  const row: Row = Object.fromEntries(one.attributes);
  if (isLeaf(one) && one.text !== '') row[one.name] = one.text;
  for (const name of new Set(one.children.map((child) => child.name))) {
    const at = `${path}/${name}`;
    const children = one.children.filter((child) => child.name === name);
    const [first] = children;
    const kind = kinds.get(at);
    if (kind === 'record' || !first) continue;
    if (kind === 'values') row[name] = writeItems(children.map((child) => child.text));
    else if (isLeaf(first) && first.attributes.length === 0) {
      if (first.text !== '') row[name] = first.text;
    } else if (first.children.every((child) => kinds.get(`${at}/${child.name}`) === 'values') && !isLeaf(first)) {
      // An element that only holds several values of one name is the field of these.
      const [only, ...others] = Object.values(valuesIn(first, at, kinds));
      if (others.length === 0) row[name] = only ?? '';
      else Object.assign(row, prefixed(name, valuesIn(first, at, kinds)));
    } else {
      const inner = valuesIn(first, at, kinds);
      // A text with attributes is called as its element is.
      for (const [key, value] of Object.entries(inner)) row[key === name ? name : `${name}${SEPARATOR}${key}`] = value;
    }
  }
  return row;
}
