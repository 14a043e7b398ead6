import { say } from '../languages/index.ts';
import { fieldAtPath, type TableDefinition, type Tables } from '../tables/index.ts';
import type { LabelLayout } from './layout.ts';

/** The place of what a record is called. */
export const RECORD_PLACE = 'record';
const PLACE = /\{([a-z][a-z0-9_.]*)\}/g;

/** The paths of fields that stand on a label. */
export const labelPaths = ({ lines }: Pick<LabelLayout, 'lines'>): string[] => [
  ...new Set(
    lines.flatMap(({ text }) =>
      [...text.matchAll(PLACE)].flatMap(([, path = '']) => (path === RECORD_PLACE ? [] : [path])),
    ),
  ),
];

/** What is wrong with the lines of a label, each at its place: fields that are not there, or that its reader does not see. */
export const labelProblems = (
  { lines }: Pick<LabelLayout, 'lines'>,
  table: TableDefinition,
  tables: Tables,
): { path: string; rule: string; message: string }[] =>
  lines.flatMap((line, at) =>
    labelPaths({ lines: [line] }).flatMap((path) =>
      fieldAtPath(tables, table.id, path)
        ? []
        : [
            {
              path: `lines.${at}`,
              rule: 'field',
              message: say('{{path}} is not a field of {label}. Correct it, or take the braces away.', {
                path,
                label: table.label,
              }),
            },
          ],
    ),
  );

/**
 * The texts of a label with its fields put in. A line whose fields are all blank is blank, its words too, so that `Berth {berth}`
 * does not say *Berth* alone.
 *
 * @example
 * labelTexts({ lines: [{ text: '{name}, {town}' }] }, (path) => ({ name: 'Ada Finch', town: '' })[path] ?? ''); // ['Ada Finch']
 */
export const labelTexts = ({ lines }: Pick<LabelLayout, 'lines'>, read: (path: string) => string): string[] =>
  lines.map(({ text }) => {
    const paths = [...text.matchAll(PLACE)].map(([, path = '']) => path);
    if (paths.length > 0 && paths.every((path) => read(path) === '')) return '';
    return (
      text
        .replaceAll(PLACE, (_place, path: string) => read(path))
        .trim()
        // What stood between two fields, one of which is blank.
        .replace(/^[,;·]\s*|\s*[,;·]$/g, '')
    );
  });
