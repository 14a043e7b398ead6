import type { ASTNode, Environment } from '@marcbachmann/cel-js';
import { type Family, isBlank, type Value } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { type FieldDefinition, fieldAtPath, linkedTable, type Tables, typeOf } from '../tables/index.ts';
import { type Clock, equip } from './functions.ts';
import { type Unreadable, unreadable } from './unreadable.ts';

let NewEnvironment: typeof Environment | undefined;

/** Loads the engine of expressions (CEL). To be awaited before any is read: a public page without one does without it. */
export async function loadExpressions(): Promise<void> {
  NewEnvironment ??= (await import('@marcbachmann/cel-js')).Environment;
}

function newEnvironment(...options: ConstructorParameters<typeof Environment>): Environment {
  if (!NewEnvironment) throw new Error('An expression was read before loadExpressions() was awaited');
  return new NewEnvironment(...options);
}

/** How the values of a family are known in an expression. Dates and times are text, which ISO 8601 lets compare. */
const KNOWN_AS: Record<Family, string> = {
  text: 'string',
  number: 'double',
  yesNo: 'bool',
  date: 'string',
  time: 'string',
  dateTime: 'string',
  link: 'int',
  choices: 'list<string>',
  links: 'list<int>',
};

/** What kind of value an expression gives, in the words of its type. */
export type Result = 'number' | 'text' | 'yesNo' | 'list';

const RESULTS: Readonly<Record<string, Result>> = { double: 'number', int: 'number', string: 'text', bool: 'yesNo' };

export interface Expression {
  /** The paths that it reads: `arrival`, `berth.longest_vessel`. */
  readonly reads: readonly string[];
  readonly result: Result;
  /**
   * Its value; blank when something that it reads is blank, unless it asks for that with `blank(…)`, and where nothing
   * can be given, as for a division by zero. `now` is the civil moment of `today()` and `now()`.
   */
  evaluate(read: (path: string) => Value, now?: string): Value;
}

const NO_TABLES: Tables = new Map();

/** Lines of a subform as an expression knows them: by the subform’s name, each column a list of its values. */
export interface LinesOf {
  readonly id: string;
  readonly fields: readonly FieldDefinition[];
}

/** What a blank reads as in an expression that asks about its blankness. */
const NOTHING: Record<Family, unknown> = {
  text: '',
  number: 0,
  yesNo: false,
  date: '',
  time: '',
  dateTime: '',
  link: 0n,
  choices: [],
  links: [],
};

/**
 * One `blank(path)` in an expression's text, or one `count(path)` of lines, and the name under which its answer is given.
 * And the word `matches`, in whose place stands `pattern`, our own function: CEL's would match without a bound in time.
 */
interface Asked {
  readonly call: 'blank' | 'count' | 'matches';
  readonly path: string;
  readonly name: string;
  readonly start: number;
  readonly end: number;
}

/**
 * The text with each such call replaced by the name of its answer, since CEL has no blank number, and lines are no list
 * by themselves. As long as before, so that what is wrong is found at its place.
 */
function withNames(source: string, asked: readonly Asked[]): string {
  return [...asked]
    .sort((a, b) => b.start - a.start)
    .reduce(
      (text, one) => text.slice(0, one.start) + one.name.padEnd(one.end - one.start) + text.slice(one.end),
      source,
    );
}

/**
 * Reads a CEL expression (Common Expression Language) over fields, each known by its column's name; columns of linked
 * records are reached with a dot where `tables` knows them, columns of `lines` as lists. Gives it ready to evaluate, or
 * what is wrong with it.
 */
export function readExpression(
  source: string,
  fields: readonly FieldDefinition[],
  tables: Tables = NO_TABLES,
  lines: readonly LinesOf[] = [],
): { readonly expression: Expression } | Unreadable {
  try {
    const paths = new Set<string>();
    const calls: Asked[] = [];
    const { ast } = newEnvironment().parse(source);
    const tooMuch = boundMisfit(ast, source);
    if (tooMuch !== undefined) return tooMuch;
    collect(ast, paths, calls, source);
    const ofLines = new Map(lines.map((one) => [one.id, one]));
    const counts = calls.filter((one) => one.call === 'count' && ofLines.has(one.path));
    const asked = calls.filter((one) => one.call === 'blank');
    const renamed = calls.filter((one) => one.call === 'matches');
    const tolerated = new Set(asked.map((one) => one.path));
    const known = new Map(fields.map((field) => [field.id, field]));
    const isColumn = (path: string): boolean => {
      const [id = '', column, ...rest] = path.split('.');
      return rest.length === 0 && ofLines.get(id)?.fields.some((field) => field.id === column) === true;
    };
    const columns = [...paths].filter(isColumn);
    const reads = [...paths].filter((path) => known.has(path.split('.')[0] ?? ''));
    const clock: Clock = { now: '' };
    const environment = newEnvironment({ unlistedVariablesAreDyn: false });
    equip(environment, clock);
    for (const field of fields) environment.registerVariable(field.id, typeFor(environment, field, reads, tables));
    for (const one of lines) registerLines(environment, one, columns);
    for (const one of counts) environment.registerVariable(one.name, 'int');
    const checked = environment.check(withNames(source, [...counts, ...renamed]));
    if (!checked.valid) return unreadable(checked.error, source);
    for (const one of asked) environment.registerVariable(one.name, 'bool');
    const parsed = environment.parse(withNames(source, [...asked, ...counts, ...renamed]));
    const isDeeper = (path: string): boolean => reads.some((longer) => longer.startsWith(`${path}.`));
    // A column that is reached through a link whose blankness is asked for may be blank with it.
    const forgiven = (path: string): boolean =>
      [...tolerated].some((one) => path === one || path.startsWith(`${one}.`));
    return {
      expression: {
        reads: [
          ...reads.filter((path) => !isDeeper(path) || tolerated.has(path)),
          ...columns,
          ...new Set(counts.map((one) => one.path)),
        ],
        result: RESULTS[checked.type ?? ''] ?? (checked.type?.startsWith('list') ? 'list' : 'text'),
        evaluate(read, now = '') {
          const context: Record<string, unknown> = {};
          for (const one of asked) context[one.name] = isBlank(read(one.path));
          for (const one of counts) context[one.name] = BigInt(Number(read(one.path) ?? 0));
          for (const path of columns) {
            const [id, column] = path.split('.');
            const field = ofLines.get(id ?? '')?.fields.find((one) => one.id === column);
            const list = read(path);
            if (field && Array.isArray(list))
              put(
                context,
                path,
                list.map((one) => knownAs(field, one)),
              );
          }
          for (const path of reads) {
            const field = fieldBehind(known, tables, path);
            if (!field || isDeeper(path)) continue;
            const value = read(path);
            if (isBlank(value) && !forgiven(path)) return null;
            put(context, path, isBlank(value) ? NOTHING[typeOf(field).family] : knownAs(field, value));
          }
          clock.now = now;
          try {
            return plain(parsed(context));
          } catch {
            return null;
          }
        },
      },
    };
  } catch (error) {
    return unreadable(error, source);
  }
}

const fieldBehind = (
  known: ReadonlyMap<string, FieldDefinition>,
  tables: Tables,
  path: string,
): FieldDefinition | undefined => {
  const [root = '', ...rest] = path.split('.');
  const field = known.get(root);
  const target = linkedTable(field);
  return rest.length === 0 ? field : target === undefined ? undefined : fieldAtPath(tables, target, rest.join('.'));
};

/** Sets `berth.pontoon.letter` in nested objects. */
function put(context: Record<string, unknown>, path: string, value: unknown): void {
  const steps = path.split('.');
  let here = context;
  for (const step of steps.slice(0, -1)) {
    here[step] ??= {};
    here = here[step] as Record<string, unknown>;
  }
  here[steps.at(-1) ?? ''] = value;
}

/** The type of a field: a structure of the columns that are read through it, where it is a link that is. */
function typeFor(environment: Environment, field: FieldDefinition, reads: readonly string[], tables: Tables): string {
  const structure = (path: string, of: FieldDefinition): string => {
    const deeper = reads.filter((one) => one.startsWith(`${path}.`)).map((one) => one.slice(path.length + 1));
    const target = tables.get(linkedTable(of) ?? '');
    if (deeper.length === 0 || !target) return KNOWN_AS[typeOf(of).family];
    const members = [...new Set(deeper.map((one) => one.split('.')[0] ?? ''))].flatMap((id): [string, string][] => {
      const column = target.fields.find((one) => one.id === id);
      return column ? [[id, structure(`${path}.${id}`, column)]] : [];
    });
    const name = `Of_${path.replaceAll('.', '_')}`;
    environment.registerType(name, { fields: Object.fromEntries(members) });
    return name;
  };
  return structure(field.id, field);
}

/** The lines of a subform: a structure of the columns that are read of them, each a list. */
function registerLines(environment: Environment, lines: LinesOf, columns: readonly string[]): void {
  const members = lines.fields.flatMap((field): [string, string][] =>
    columns.includes(`${lines.id}.${field.id}`) ? [[field.id, `list<${KNOWN_AS[typeOf(field).family]}>`]] : [],
  );
  if (members.length === 0) return;
  const name = `Of_lines_${lines.id}`;
  environment.registerType(name, { fields: Object.fromEntries(members) });
  environment.registerVariable(lines.id, name);
}

/** An expression has at most so many characters, a list that it writes out so many items, and loops stand in so many others. */
const MOST_CHARACTERS = 4_000;
const MOST_ITEMS = 200;
const MOST_NESTED = 2;
const LOOPS = new Set(['all', 'exists', 'exists_one', 'map', 'filter']);

/** What makes an expression too costly to evaluate at every keystroke: long lists, and loops within loops. */
function boundMisfit(ast: ASTNode, source: string): Unreadable | undefined {
  if (source.length > MOST_CHARACTERS)
    return {
      wrong: say('This is too long: an expression has at most {mostCharacters} characters.', {
        mostCharacters: MOST_CHARACTERS,
      }),
      at: { start: 0, end: source.length },
    };
  const walk = (node: ASTNode, depth: number): Unreadable | undefined => {
    const at = node.range;
    if (node.op === 'list' && node.args.length > MOST_ITEMS)
      return {
        wrong: say('This list is too long: write out at most {mostItems} items, or keep them in a table.', {
          mostItems: MOST_ITEMS,
        }),
        at,
      };
    const loops = node.op === 'rcall' && LOOPS.has(String(node.args[0])) ? depth + 1 : depth;
    if (loops > MOST_NESTED)
      return {
        wrong: say(
          'This goes through lists within lists within lists: at most {mostNested} may stand in one another.',
          { mostNested: MOST_NESTED },
        ),
        at,
      };
    if (node.op === 'value') return undefined;
    const within = (part: unknown): Unreadable | undefined => {
      if (Array.isArray(part)) {
        for (const one of part) {
          const found = within(one);
          if (found) return found;
        }
        return undefined;
      }
      return part !== null && typeof part === 'object' && 'op' in part ? walk(part as ASTNode, loops) : undefined;
    };
    return within(node.args);
  };
  return walk(ast, 0);
}

/** The paths that an expression reads, and those that it asks the blankness or the number of. */
function collect(node: ASTNode, paths: Set<string>, asked: Asked[], source: string): void {
  const path = pathOf(node);
  if (path !== undefined) {
    paths.add(path);
    return;
  }
  if (node.op === 'call' && (node.args[0] === 'blank' || node.args[0] === 'count') && node.args[1][0]) {
    const call = node.args[0];
    const of = pathOf(node.args[1][0]);
    const { start, end } = node.range;
    if (of !== undefined) asked.push({ call, path: of, name: `${call}${asked.length}_`, start, end });
  }
  if (node.op === 'rcall' && node.args[0] === 'matches') {
    const start = source.indexOf('matches', node.args[1].range.end);
    asked.push({ call: 'matches', path: '', name: 'pattern', start, end: start + 'matches'.length });
  }
  if (node.op === 'value') return;
  const within = (part: unknown): void => {
    if (Array.isArray(part)) part.forEach(within);
    else if (part !== null && typeof part === 'object' && 'op' in part) collect(part as ASTNode, paths, asked, source);
  };
  within(node.args);
}

function pathOf(node: ASTNode): string | undefined {
  if (node.op === 'id') return node.args;
  if (node.op !== '.') return undefined;
  const before = pathOf(node.args[0]);
  return before === undefined ? undefined : `${before}.${node.args[1]}`;
}

const knownAs = (field: FieldDefinition, value: Value): unknown => {
  const { family } = typeOf(field);
  if (family === 'link') return BigInt(Number(value));
  return family === 'links' && Array.isArray(value) ? value.map((id) => BigInt(id)) : value;
};

/** A value of CEL as a value of a field: its whole numbers are plain numbers here. */
function plain(value: unknown): Value {
  if (typeof value === 'bigint') return Number(value);
  if (typeof value === 'number') return Number.isFinite(value) ? value : null;
  if (typeof value === 'string' || typeof value === 'boolean') return value;
  return Array.isArray(value) ? value.map((item) => String(item)) : null;
}
