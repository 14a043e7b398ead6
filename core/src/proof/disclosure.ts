import { namesPeople } from '../fields/index.ts';
import { labelAt } from '../forms/index.ts';
import { joinedWords, say } from '../languages/index.ts';
import { cardLines, type FieldId, linkedTable, titleNames } from '../tables/index.ts';
import { type Check, called, type Examined, type Finding } from './finding.ts';

/** Something of the office’s tables that a public page tells strangers. */
export interface Disclosure {
  /** Names it among what a builder has confirmed: the same thing keeps its key, and other columns get another. */
  readonly key: string;
  readonly path: string;
  readonly message: string;
}

/**
 * What a public page tells everybody: titles of linked tables, columns beside choices, what choosing or typing a key
 * fills, reference cards. Each is a problem until the builder has confirmed it.
 */
export const disclosure: Check = (examined) => {
  const { page } = examined.definition;
  if (page === null) return [];
  const confirmed = new Set(page.disclosed);
  const open = disclosuresOf(examined)
    .filter((one) => !confirmed.has(one.key))
    .map(
      ({ key, path, message }): Finding => ({
        rule: 'disclosure',
        weight: 'must',
        path,
        message,
        why: say(
          'Anybody can read it, and try one value after another. Confirm it with the public page, or remove it.',
        ),
        confirm: key,
      }),
    );
  return [...people(examined), ...open];
};

/** Names every column, so that a further one is confirmed anew; no table, since a form keeps its confirmations in another cabinet. */
const keyOf = (field: FieldId, what: string, columns: readonly string[]): string =>
  `${field} ${what} ${[...columns].sort().join(' ')}`.trim();

export function disclosuresOf(examined: Examined): Disclosure[] {
  const { definition, form, tables } = examined;
  const shown = [...form.fields.values()]
    .filter((field) => field.placed)
    .flatMap((field): Disclosure[] => {
      const key = (what: string, columns: readonly string[]) => keyOf(field.id, what, columns);
      const table = field.source?.column === undefined ? tables.get(field.source?.table ?? '') : undefined;
      const beside = field.narrowing.show;
      const named = titleNames(table?.title ?? '');
      const { fill } = field;
      const filled = fill?.pairs.filter((pair) => pair.from !== 'self') ?? [];
      const labels = (of: string, columns: readonly string[]) =>
        joinedWords(columns.map((id) => labelAt(tables, of, id)));
      return [
        ...(table && !field.readOnly
          ? [
              {
                key: key('offers', named),
                path: field.id,
                message: say('Strangers can read {count} of {label}, as the choices of {other}.', {
                  count: named.length > 0 ? labels(table.id, named) : say('the numbers of the records'),
                  label: table.label,
                  other: field.label,
                }),
              },
            ]
          : []),
        ...(table && beside.length > 0
          ? [
              {
                key: key('shows', beside),
                path: field.id,
                message: say('Strangers can read {id} of {label} beside the choices of {other}.', {
                  id: labels(table.id, beside),
                  label: table.label,
                  other: field.label,
                }),
              },
            ]
          : []),
        ...(fill && filled.length > 0
          ? [
              {
                key: key(
                  'fills',
                  filled.map((pair) => pair.from),
                ),
                path: field.id,
                message: say('Whoever {key} a {label} can read {table} of {other}.', {
                  key: fill.key === null ? 'chooses' : 'types',
                  label: field.label,
                  table: labels(
                    fill.table,
                    filled.map((pair) => pair.from),
                  ),
                  other: tables.get(fill.table)?.label ?? '',
                }),
              },
            ]
          : []),
      ];
    });
  const cards = definition.sections.flatMap((section) =>
    section.items.flatMap((item): Disclosure[] => {
      if (item.kind !== 'card') return [];
      const table = tables.get(linkedTable(form.fields.get(item.of)?.field) ?? '');
      const lines = table ? cardLines(tables, table) : [];
      if (lines.length === 0) return [];
      return [
        {
          key: keyOf(
            item.of,
            'card',
            lines.map((line) => line.path),
          ),
          path: `#${item.id}`,
          message: say('Strangers can read {list} of the {examined} they choose.', {
            list: lines.map((line) => line.label).join(', '),
            examined: called(examined, item.of),
          }),
        },
      ];
    }),
  );
  return [...shown, ...cards];
}

/** A public page tells nobody who works here: it cannot ask for one of the office’s people. */
const people = ({ form }: Examined): Finding[] =>
  [...form.fields.values()].flatMap((field): Finding[] =>
    field.placed && namesPeople(field.field)
      ? [
          {
            rule: 'disclosure',
            weight: 'must',
            path: field.id,
            message: say(
              '{label} chooses one of the office’s people, which a public page does not tell. Remove it from the form.',
              { label: field.label },
            ),
            why: say('Nobody outside should learn who works here, or their logins.'),
          },
        ]
      : [],
  );
