import { joinedWords, say, sayLater } from '../languages/index.ts';
import { findField, type Tables } from '../tables/index.ts';
import { type Destination, OWN, type Several, tableOfPart, type Writing } from './destination.ts';

/** `Owners`, or the table’s label with the destination’s name where a form writes to a table twice. */
export function partLabel(form: Writing, part: string, tables: Tables): string {
  const table = tableOfPart(form, part);
  const label = tables.get(table)?.label ?? table;
  const same = [form.table, ...(form.destinations?.of.map((one) => one.table) ?? [])].filter((one) => one === table);
  return same.length > 1 && part !== OWN ? `${label} (${part})` : label;
}

const SEVERAL_WORDS: Readonly<Record<Several, string>> = {
  refuse: sayLater('it refuses'),
  newest: sayLater('it takes the newest'),
  ask: sayLater('a person chooses one'),
};

/** `finds a record by E-mail, or adds one; where several are found, it refuses`. */
export function doesWords({ does, key, over, table, several }: Destination, tables: Tables): string {
  if (does === 'add') return say('adds a record');
  const by = joinedWords(key.map((id) => findField(tables.get(table), id)?.label ?? id)) || '…';
  const then =
    does === 'findOrAdd'
      ? say(', or adds one')
      : over === 'blanks'
        ? ` ${say('and fills its blank fields')}`
        : ` ${say('and changes it')}`;
  return say('finds a record by {by}{then}; where several are found, {several}', {
    by,
    then,
    several: say(SEVERAL_WORDS[several]),
  });
}

/** What a form writes where, a line for each destination, link and copy; for comparing two versions. */
export function destinationWords(form: Writing, tables: Tables): string[] {
  const { destinations } = form;
  if (!destinations) return [];
  const label = (part: string, field: string): string =>
    `${partLabel(form, part, tables)} › ${findField(tables.get(tableOfPart(form, part)), field)?.label ?? field}`;
  return [
    ...destinations.of.map((one) => `${partLabel(form, one.id, tables)}: ${doesWords(one, tables)}`),
    ...destinations.links.map(({ of, field, to }) =>
      say('{of} points at the record of {form}', { of: label(of, field), form: partLabel(form, to, tables) }),
    ),
    ...destinations.copies.map(({ from, of, to }) => say('{from} also goes to {of}', { from, of: label(of, to) })),
  ];
}
