import { isWhole, linesTable, type PreparedForm, subformsOf } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import type { Check, Finding } from './finding.ts';

/** Whether a calculation, a condition or a rule of a form reads the lines of a subform. */
const readsLines = ({ subforms: all, wiring, rules }: PreparedForm, id: string): boolean =>
  (all.get(id)?.columns.length ?? 0) > 0 ||
  wiring.edges.some((edge) => edge.from === id) ||
  rules.some((rule) => rule.reads.some((path) => path.split('.')[0] === id));

/** Subforms whose table or link has gone, whose name is a field’s, or that ask for more lines than they hold. */
export const subforms: Check = ({ definition, table, tables, form }) => {
  const seen = new Set(table.fields.map((field) => field.id));
  const asRows = definition.opensOn === 'rows' || definition.opensOn === 'blankRows';
  return subformsOf(definition).flatMap((subform): Finding[] => {
    const label = subform.label ?? tables.get(subform.table)?.label ?? subform.id;
    const must = (message: string, why: string): Finding => ({
      rule: 'subform',
      weight: 'must',
      path: subform.id,
      message,
      why,
    });
    const taken = seen.has(subform.id);
    seen.add(subform.id);
    const { least, most } = subform;
    return [
      ...(isWhole(subform, linesTable(definition, subform), tables)
        ? []
        : [
            must(
              say('The lines of {label} do not link to {other} any more. Remove the subform, or restore the link.', {
                label,
                other: table.label,
              }),
              say('Its lines could not be found or saved.'),
            ),
          ]),
      ...(taken
        ? [
            must(
              say('The subform {label} goes by the name {id}, which something else has. Remove it and add it again.', {
                label,
                id: subform.id,
              }),
              say('A calculation could not tell the two apart.'),
            ),
          ]
        : []),
      ...(asRows
        ? [
            {
              ...must(
                say(
                  'The form opens on rows, which have no room for the lines of {label}. They are entered on a card.',
                  { label },
                ),
                say('Whoever fills the rows does not see them, nor what is added up of them.'),
              ),
              weight: 'look' as const,
            },
          ]
        : []),
      ...(subform.view != null && (least !== null || most !== null || readsLines(form, subform.id))
        ? [
            must(
              say(
                '{label} shows the lines of a view only, and the form counts or reads its lines. Show all lines, or take out what reads them.',
                { label },
              ),
              say('The lines that the view leaves out would be missing from every sum and count.'),
            ),
          ]
        : []),
      ...(least !== null && most !== null && least > most
        ? [
            must(
              say('{label} needs at least {least} lines but holds at most {most}.', { label, least, most }),
              say('Nobody could save.'),
            ),
          ]
        : []),
    ];
  });
};
