import { type Condition, describeCondition, EVERYTHING, type Group } from '../conditions/index.ts';
import { say } from '../languages/index.ts';
import { sourceOf } from '../narrowing/index.ts';
import { type FieldDefinition, type Initial, type Tables, typeOf } from '../tables/index.ts';
import { type DefinedForm, type PlacedField, subformsOf } from './form.ts';
import { labelAt, type Naming, namesOf } from './words.ts';

/** Whether two parts of a definition are the same. */
export const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** What became of a condition under which something is shown or required, in words. */
export const whenWords = (
  name: string,
  what: 'shown' | 'required',
  condition: Group | null,
  names: ReturnType<typeof namesOf>,
): string =>
  condition === null
    ? what === 'shown'
      ? say('{name} is always shown now', { name })
      : say('{name} is no longer required under a condition', { name })
    : what === 'shown'
      ? say('{name} is now shown when {condition}', { name, condition: describeCondition(condition, names) })
      : say('{name} is now required when {condition}', { name, condition: describeCondition(condition, names) });

/** What is set of a field on one version of a form and not on the other, in words. */
export function fieldDifferences(
  was: PlacedField,
  one: PlacedField,
  label: string,
  field: FieldDefinition | undefined,
  tables: Tables,
  form: DefinedForm,
): string[] {
  const found: string[] = [];
  const names = namesOf({ tables, table: form.table, subforms: subformsOf(form) });
  if (was.help !== one.help)
    found.push(
      one.help === null
        ? say('{label} has the table’s help text again', { label })
        : say('{label} has another help text', { label }),
    );
  if (was.required !== one.required)
    found.push(`${label} ${one.required ? say('became required') : say('is no longer required')}`);
  if (!same(was.requiredWhen, one.requiredWhen)) found.push(whenWords(label, 'required', one.requiredWhen, names));
  if (!same(was.shownWhen, one.shownWhen)) found.push(whenWords(label, 'shown', one.shownWhen, names));
  if (was.keepHidden !== one.keepHidden)
    found.push(
      one.keepHidden
        ? say('{label} keeps its value while hidden', { label })
        : say('{label} is saved as blank while hidden', { label }),
    );
  if (was.readOnly !== one.readOnly)
    found.push(
      one.readOnly ? say('{label} is only shown now', { label }) : say('{label} can be filled in now', { label }),
    );
  if (!same(was.initial, one.initial))
    found.push(say('{label} begins with {initial}', { label, initial: initialWords(one.initial, field) }));
  if (was.calculation !== one.calculation)
    found.push(
      one.calculation === null
        ? say('{label} is no longer calculated', { label })
        : say('{label} is now calculated as {calculation}', { label, calculation: one.calculation }),
    );
  return [
    ...found,
    ...narrowingDifferences(was, one, label, field, tables, form),
    ...fillDifferences(was, one, label, tables, form),
  ];
}

const initialWords = (initial: Initial | null, field: FieldDefinition | undefined): string =>
  initial === null
    ? say('what the table says')
    : initial.kind === 'value'
      ? initial.value === null || !field
        ? say('nothing')
        : typeOf(field).format(initial.value, field.settings)
      : initial.kind === 'calculation'
        ? initial.source
        : { today: say('today'), now: say('the present moment'), account: say('the account') }[initial.kind];

function narrowingDifferences(
  was: PlacedField,
  one: PlacedField,
  label: string,
  field: FieldDefinition | undefined,
  tables: Tables,
  form: DefinedForm,
): string[] {
  const source = field && sourceOf(field);
  if (!source) return [];
  const naming: Naming = { tables, table: form.table, choices: source.table, sides: true };
  const names = namesOf(naming);
  const [old, now] = [was.narrowing?.where ?? EVERYTHING, one.narrowing?.where ?? EVERYTHING];
  const found: string[] = [];
  const only = (among: readonly Condition[], other: readonly Condition[]): Condition[] =>
    among.filter((condition) => !other.some((one) => same(one, condition)));
  if (old.match === now.match)
    found.push(
      ...only(now.of, old.of).map((one) => {
        const said = { label, condition: describeCondition(one, names) };
        return old.of.length > 0
          ? say('{label} is now also narrowed: {condition}', said)
          : say('{label} is now narrowed: {condition}', said);
      }),
      ...only(old.of, now.of).map((one) =>
        say('{label} is no longer narrowed: {one}', { label, one: describeCondition(one, names) }),
      ),
    );
  else found.push(say('{label} is narrowed differently: {now}', { label, now: describeCondition(now, names) }));
  const column = (id: string | null): string => (id === null ? say('the title') : labelAt(tables, source.table, id));
  const [a, b] = [was.narrowing, one.narrowing];
  if ((a?.sort ?? null) !== (b?.sort ?? null))
    found.push(say('The choices of {label} are sorted by {sort}', { label, sort: column(b?.sort ?? null) }));
  if (!same(a?.show ?? [], b?.show ?? []))
    found.push(
      (b?.show ?? []).length === 0
        ? say('The choices of {label} show nothing beside them', { label })
        : say('The choices of {label} show {list}', { label, list: (b?.show ?? []).map(column).join(', ') }),
    );
  if ((a?.view ?? null) !== (b?.view ?? null))
    found.push(
      b?.view == null
        ? say('{label} no longer offers the records of a view only', { label })
        : say('{label} now offers the records of {view} view only', { label, view: a?.view == null ? 'a' : 'another' }),
    );
  if ((a?.adds ?? false) !== (b?.adds ?? false))
    found.push(
      b?.adds
        ? say('A new one can be added at {label}', { label })
        : say('No new one can be added at {label} any more', { label }),
    );
  if ((a?.only ?? false) !== (b?.only ?? false))
    found.push(
      b?.only
        ? say('{label} is chosen by itself when one choice is left', { label })
        : say('{label} is no longer chosen by itself', { label }),
    );
  return found;
}

function fillDifferences(
  was: PlacedField,
  one: PlacedField,
  label: string,
  tables: Tables,
  form: DefinedForm,
): string[] {
  if (same(was.fill, one.fill)) return [];
  const named = (id: string): string => labelAt(tables, form.table, id);
  const [old, now] = [was.fill?.pairs ?? [], one.fill?.pairs ?? []];
  const found = [
    ...now
      .filter((pair) => !old.some((other) => other.to === pair.to))
      .map((pair) => say('{label} now fills {to}', { label, to: named(pair.to) })),
    ...old
      .filter((pair) => !now.some((other) => other.to === pair.to))
      .map((pair) => say('{label} no longer fills {to}', { label, to: named(pair.to) })),
    ...now
      .filter((pair) => old.some((other) => other.to === pair.to && !same(other, pair)))
      .map((pair) => say('{label} fills {to} differently', { label, to: named(pair.to) })),
  ];
  if (was.fill && one.fill && (was.fill.key !== one.fill.key || was.fill.table !== one.fill.table))
    found.push(say('{label} is looked up in another place', { label }));
  if (was.fill && one.fill && was.fill.whenNone !== one.fill.whenNone)
    found.push(say('{label} does something else when nothing is found', { label }));
  return found;
}
