import { type Condition, type Operand, operandsOf, otherSide } from '../conditions/index.ts';
import { type Family, fieldType, isOfWords, type Value } from '../fields/index.ts';
import {
  familyAt,
  formFields,
  isField,
  labelAt,
  type Naming,
  readLinePath,
  rootOf,
  subformsOf,
} from '../forms/index.ts';
import { say, sayLater } from '../languages/index.ts';
import { sourceOf } from '../narrowing/index.ts';
import { type FieldDefinition, fieldAtPath, findField, typeOf } from '../tables/index.ts';
import { type Check, called, type Examined, type Finding } from './finding.ts';

const FAMILY_WORDS: Record<Family, string> = {
  text: sayLater('text'),
  number: sayLater('a number'),
  yesNo: sayLater('yes or no'),
  date: sayLater('a date'),
  time: sayLater('a time'),
  dateTime: sayLater('a date and time'),
  link: sayLater('a link'),
  choices: sayLater('several choices'),
  links: sayLater('several links'),
};

/** The sides of comparisons that have gone, and those that can never meet. */
export const comparisons: Check = (examined) => {
  const found = placedConditions(examined).flatMap(({ condition, naming, finding }) =>
    wrongSides(examined, naming, condition).map(finding),
  );
  const gone = rulesOf(examined).flatMap(({ rule, finding }) =>
    findField(examined.table, rootOf(rule.at)) || examined.form.subforms.has(rule.at)
      ? []
      : [finding(say('{at}, which is not there any more.', { at: rule.at }))],
  );
  // A narrowing of a table and that of its form can have the same fault.
  return [...new Map([...gone, ...found].map((one) => [`${one.path} ${one.message}`, one])).values()];
};

/** A condition of a form or its table, how its names are read, and the finding that a fault of it makes. */
export interface PlacedCondition {
  readonly condition: Condition;
  readonly naming: Naming;
  /** `what` is the fault, as the end of a sentence. */
  finding(what: string): Finding;
}

/** Every condition that a form depends on: of its narrowings, of what is shown and required when, of its rules. */
export const placedConditions = (examined: Examined): PlacedCondition[] => [
  ...narrowings(examined),
  ...dependencies(examined),
  ...rulesOf(examined).flatMap(({ rule, finding }) =>
    [rule.when, rule.must.kind === 'expression' ? null : rule.must].flatMap((condition) =>
      condition ? [{ condition, naming: namingOf(examined), finding }] : [],
    ),
  ),
];

function narrowings(examined: Examined): PlacedCondition[] {
  const placed = new Map(formFields(examined.definition).map((one) => [one.field, one]));
  return [...examined.form.fields.values()].flatMap(({ id, field }) => {
    const source = sourceOf(field);
    if (!source) return [];
    const naming = { ...namingOf(examined), choices: source.table };
    return [field.narrowing, placed.get(id)?.narrowing?.where].flatMap((condition) =>
      condition
        ? [
            {
              condition,
              naming,
              finding: (what: string): Finding => ({
                rule: 'narrowing',
                weight: 'must',
                path: id,
                message: say('{examined} is narrowed by {what}', { examined: called(examined, id), what }),
                why: say('Its choices could not be found.'),
              }),
            },
          ]
        : [],
    );
  });
}

function dependencies(examined: Examined): PlacedCondition[] {
  const naming = namingOf(examined);
  const of = (condition: Condition | null, path: string, verb: string): PlacedCondition[] =>
    condition === null
      ? []
      : [
          {
            condition,
            naming,
            finding: (what) => ({
              rule: 'condition',
              weight: 'must',
              path,
              message: say('{verb} on {what}', { verb, what }),
              why: say('Whether it holds could never be told.'),
            }),
          },
        ];
  return examined.definition.sections.flatMap((section) => [
    ...of(
      section.shownWhen,
      `#${section.id}`,
      say('Whether the section {label} is shown depends', { label: section.label || section.id }),
    ),
    ...section.items.flatMap((item) =>
      isField(item)
        ? [
            ...of(
              item.shownWhen,
              item.field,
              say('Whether {examined} is shown depends', { examined: called(examined, item.field) }),
            ),
            ...of(
              item.requiredWhen,
              item.field,
              say('Whether {examined} is required depends', { examined: called(examined, item.field) }),
            ),
          ]
        : [],
    ),
  ]);
}

const rulesOf = ({ definition, table }: Examined) =>
  [...table.rules, ...definition.rules].map((rule) => ({
    rule,
    finding: (what: string): Finding => ({
      rule: 'rule',
      weight: 'must',
      path: rule.at,
      message: say('The rule “{message}” reads {what}', { message: rule.message, what }),
      why: say('It could never be decided.'),
    }),
  }));

const namingOf = ({ definition, tables, table, form }: Examined): Naming => ({
  tables,
  table: table.id,
  subforms: subformsOf(definition),
  enclosing: form.enclosure?.table.id,
});

/** What is wrong with the sides of a condition, each as the end of a sentence. */
function wrongSides(examined: Examined, naming: Naming, condition: Condition): string[] {
  const gone = operandsOf(condition).flatMap((operand) => missing(examined, naming, operand));
  return gone.length > 0 ? gone : mismatches(naming, condition);
}

function missing({ tables, table, form }: Examined, { choices }: Naming, operand: Operand): string[] {
  if (operand.kind === 'enclosing') {
    const { enclosure } = form;
    if (!enclosure) return [say('the enclosing record, which only lines have.')];
    return fieldAtPath(tables, enclosure.table.id, operand.path)
      ? []
      : [say('{path} of the enclosing record, which is not there any more.', { path: operand.path })];
  }
  if (operand.kind === 'asked') return [say('what is asked each time, which only a view does.')];
  if (operand.kind === 'column')
    return choices !== undefined && fieldAtPath(tables, choices, operand.path)
      ? []
      : [say('the column {path}, which is not there any more.', { path: operand.path })];
  if (operand.kind !== 'form') return [];
  const ofLines = readLinePath(form.subforms, operand.path);
  if (ofLines) {
    const field = ofLines.column && findField(form.subforms.get(ofLines.id)?.form.table, ofLines.column);
    if (ofLines.column === undefined) return [];
    if (!field) return [say('{path}, which is not there any more.', { path: operand.path })];
    return ofLines.aggregate && typeOf(field).family === 'number'
      ? []
      : [say('{path}, which is not one number.', { path: operand.path })];
  }
  if (!fieldAtPath(tables, table.id, operand.path))
    return [say('{path}, which is not there any more.', { path: operand.path })];
  return form.fields.has(rootOf(operand.path)) || rootOf(operand.path) === form.enclosure?.link
    ? []
    : [say('{tables}, which is not on the form.', { tables: labelAt(tables, table.id, operand.path) })];
}

function mismatches(naming: Naming, condition: Condition): string[] {
  if (condition.kind === 'group') return condition.of.flatMap((one) => mismatches(naming, one));
  if (!('right' in condition)) return [];
  const { left, right, operator } = condition;
  const family = familyAt(naming, left);
  const other = familyAt(naming, right);
  const one = operator === 'has' || operator === 'hasNot';
  const wanted = family && one ? otherSide(family) : family;
  if (one && family && wanted === family)
    return [say('a comparison that cannot hold: {family} has nothing in it.', { family: say(FAMILY_WORDS[family]) })];
  if (wanted && other && wanted !== other)
    return [
      say('a comparison that cannot hold: {wanted} is never {other}.', {
        wanted: say(FAMILY_WORDS[wanted]),
        other: say(FAMILY_WORDS[other]),
      }),
    ];
  const unknown = right.kind === 'constant' ? unknownChoice(naming, left, right.value) : undefined;
  if (unknown !== undefined) return [say('a comparison that cannot hold: {unknown}', { unknown })];
  if (wanted && right.kind === 'constant' && !fitsFamily(right.value, wanted))
    return [
      say('a comparison that cannot hold: “{value}” is not {wanted}.', {
        value: String(right.value),
        wanted: say(FAMILY_WORDS[wanted]),
      }),
    ];
  return [];
}

/** The field of choices that a side of a comparison names; undefined for any other side. */
export function choiceFieldOf({ tables, table, choices }: Naming, side: Operand): FieldDefinition | undefined {
  const of = side.kind === 'column' ? choices : side.kind === 'form' ? table : undefined;
  const field = of !== undefined && 'path' in side ? fieldAtPath(tables, of, side.path) : undefined;
  return isOfWords(field) ? field : undefined;
}

/** A value that is compared with a field of choices and is none of them, as the end of a sentence. */
function unknownChoice(naming: Naming, left: Operand, value: Value): string | undefined {
  const field = choiceFieldOf(naming, left);
  const offered = (field?.settings.choices as readonly string[] | undefined) ?? [];
  return offered.length > 0 && typeof value === 'string' && !offered.includes(value)
    ? say('“{value}” is not one of the choices of {label}.', { value, label: field?.label ?? '' })
    : undefined;
}

const SAMPLES: Partial<Record<Family, string>> = { date: 'date', time: 'time', dateTime: 'dateTime' };

function fitsFamily(value: Value, family: Family): boolean {
  if (family === 'number' || family === 'link') return typeof value === 'number';
  if (family === 'yesNo') return typeof value === 'boolean';
  if (family === 'text') return typeof value === 'string';
  const type = SAMPLES[family];
  return type !== undefined && fieldType(type).accept(value, {}).ok;
}
