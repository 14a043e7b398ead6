import { isField, labelAt } from '../forms/index.ts';
import { cardLines, linkedTable } from '../tables/index.ts';
import { type Check, called, type Finding } from './finding.ts';

/** What a public page would tell to everybody: columns beside choices, reference cards, and what a typed key fills. */
export const disclosure: Check = (examined) => {
  const { definition, form, tables } = examined;
  if (definition.page === null) return [];
  const look = (path: string, message: string): Finding => ({
    rule: 'disclosure',
    weight: 'look',
    path,
    message,
    why: 'Anybody can read it, and try one value after another.',
  });
  const shown = [...form.fields.values()].flatMap((field): Finding[] => {
    const table = tables.get(field.source?.table ?? '');
    const beside = field.narrowing.show.map((id) => labelAt(tables, table?.id ?? '', id));
    const fills = field.fill?.key
      ? field.fill.pairs.flatMap((pair) =>
          pair.from === 'self' ? [] : [labelAt(tables, field.fill?.table ?? '', pair.from)],
        )
      : [];
    return [
      ...(beside.length > 0 && table
        ? [
            look(
              field.id,
              `The public page shows ${beside.join(' and ')} of ${table.label} beside the choices of ${field.label}.`,
            ),
          ]
        : []),
      ...(fills.length > 0 && field.fill
        ? [
            look(
              field.id,
              `Whoever types a ${field.label} on the public page learns ${fills.join(' and ')} of ${tables.get(field.fill.table)?.label}.`,
            ),
          ]
        : []),
    ];
  });
  const cards = definition.sections.flatMap((section) =>
    section.items.flatMap((item): Finding[] => {
      if (isField(item) || item.kind !== 'card') return [];
      const table = tables.get(linkedTable(form.fields.get(item.of)?.field) ?? '');
      const lines = table ? cardLines(tables, table).map((line) => line.label) : [];
      return lines.length > 0
        ? [look(`#${item.id}`, `The public page shows ${lines.join(', ')} of the ${called(examined, item.of)}.`)]
        : [];
    }),
  );
  const people = [...form.fields.values()].flatMap((field): Finding[] =>
    field.placed && field.field.type === 'account'
      ? [
          {
            rule: 'disclosure',
            weight: 'must',
            path: field.id,
            message: `${field.label} chooses one of the office’s people, which a public page does not tell. Take it off the form.`,
            why: 'Nobody outside should learn who works here, or their logins.',
          },
        ]
      : [],
  );
  return [...people, ...shown, ...cards];
};
