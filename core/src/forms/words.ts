import { describeCondition, type Names, type Operand } from '../conditions/index.ts';
import { type Family, fieldType, isFieldType, isLinking, type Value } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import type { Rule } from '../rules/index.ts';
import { fieldAtPath, type TableId, type Tables, targetTable, typeOf } from '../tables/index.ts';
import type { Subform } from './form.ts';
import { AGGREGATE_WORDS, readLinePath } from './subform.ts';

export interface Naming {
  readonly tables: Tables;
  /** The table of the form. */
  readonly table: TableId;
  /** The table of the choices, in a narrowing. */
  readonly choices?: TableId;
  /** Labels that the form itself gives to fields, by field. */
  readonly labels?: ReadonlyMap<string, string>;
  /** In a line: the table of the record that encloses it. */
  readonly enclosing?: TableId;
  /** The subforms of the form, whose lines its conditions can read. */
  readonly subforms?: readonly Subform[];
  /** The titles of records that constants name, by `table:id`. */
  readonly titles?: ReadonlyMap<string, string>;
  /** In a narrowing each side is named with its own word: `this form’s Pontoon`. */
  readonly sides?: boolean;
}

/** A path to lines in words: `the number of Services used`, `the sum of Services used’s Amount`. */
function lineWords({ tables, subforms = [] }: Naming, path: string): string | undefined {
  const found = readLinePath(new Set(subforms.map((one) => one.id)), path);
  const subform = subforms.find((one) => one.id === found?.id);
  if (!found || !subform) return undefined;
  const label = subform.label ?? tables.get(subform.table)?.label ?? subform.id;
  if (found.column === undefined) return say('the number of {label}', { label });
  return `${found.aggregate ? `${say(AGGREGATE_WORDS[found.aggregate])} ` : ''}${label}’s ${labelAt(tables, subform.table, found.column)}`;
}

/** The labels along a path: `Berth’s Longest vessel`; a step that has gone keeps its column’s name. */
export function labelAt(tables: Tables, table: TableId, path: string, labels?: ReadonlyMap<string, string>): string {
  const steps = path.split('.');
  return steps
    .map((step, at) => {
      const own = at === 0 ? labels?.get(step) : undefined;
      return own ?? fieldAtPath(tables, table, steps.slice(0, at + 1).join('.'))?.label ?? step;
    })
    .join('’s ');
}

/** The family of an operand's values; undefined for what is not there, which findings name, and for constants. */
export function familyAt(naming: Naming, operand: Operand): Family | undefined {
  const { tables, table, choices } = naming;
  switch (operand.kind) {
    case 'account':
      return 'text';
    case 'today':
      return operand.of;
    case 'constant':
    case 'asked':
      return undefined;
    case 'enclosing': {
      const field = fieldAtPath(tables, naming.enclosing ?? '', operand.path);
      return field && isFieldType(field.type) ? typeOf(field).family : undefined;
    }
    default: {
      if (operand.kind === 'form' && lineWords(naming, operand.path) !== undefined) return 'number';
      const field = fieldAtPath(tables, operand.kind === 'form' ? table : (choices ?? ''), operand.path);
      return field && isFieldType(field.type) ? typeOf(field).family : undefined;
    }
  }
}

/** How the sides of a form’s conditions are called. */
export function namesOf(naming: Naming): Names {
  const { tables, table, choices, labels, sides } = naming;
  const fieldOf = (operand: Operand) =>
    operand.kind === 'form' || operand.kind === 'column' || operand.kind === 'enclosing'
      ? fieldAtPath(
          tables,
          { form: table, column: choices ?? '', enclosing: naming.enclosing ?? '' }[operand.kind],
          operand.path,
        )
      : undefined;
  return {
    familyOf: (operand) => familyAt(naming, operand),
    nameOf: (operand) => {
      switch (operand.kind) {
        case 'column':
          return labelAt(tables, choices ?? '', operand.path);
        case 'form':
          return (
            lineWords(naming, operand.path) ??
            `${sides ? (naming.enclosing ? `${say('this line’s')} ` : `${say('this form’s')} `) : ''}${labelAt(tables, table, operand.path, labels)}`
          );
        case 'enclosing':
          return say('the {label} card’s {tables}', {
            label: tables.get(naming.enclosing ?? '')?.label ?? say('enclosing record'),
            tables: labelAt(tables, naming.enclosing ?? '', operand.path),
          });
        case 'account':
          return say('the account');
        case 'asked':
          return say('asked each time');
        default:
          return '';
      }
    },
    show: (value: Value, beside) => {
      const field = fieldOf(beside);
      if (field && isLinking(field))
        return naming.titles?.get(`${targetTable(field)}:${value}`) ?? say('record {value}', { value: String(value) });
      if (typeof value === 'boolean') return value ? 'yes' : 'no';
      if (field && fieldType(field.type).accept(value, field.settings).ok)
        return fieldType(field.type).format(value, field.settings);
      return String(value);
    },
  };
}

/** A rule as a sentence: `Stop, when Type is Tender, unless Length is at most 6: “A tender is at most 6 m.”` */
export function ruleWords(rule: Rule, names: Names): string {
  const verb = rule.kind === 'stop' ? say('Stop') : say('Ask why');
  const when =
    rule.when && rule.when.of.length > 0 ? say(', when {when},', { when: describeCondition(rule.when, names) }) : '';
  const must = rule.must.kind === 'expression' ? rule.must.source : describeCondition(rule.must, names);
  return say('{verb}{when} unless {must}: “{message}”', { verb, when, must, message: rule.message });
}
