import { type EntryState, linePath, presentLines } from '@fiche/core/entry';
import type { FileToken, Problem } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { FieldId, TableId } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { namedFiles, strangeFiles } from '../files/index.ts';

interface Named {
  readonly path: string;
  readonly table: TableId;
  readonly file: FileToken;
}

/** The files that an entry and its lines name and did not name before. */
function freshFiles(state: EntryState): Named[] {
  const own = (one: EntryState, pathOf: (field: FieldId) => string): Named[] => {
    const { table } = one.form;
    const before = new Set(one.opening.record ? namedFiles(table, one.original).map(({ file }) => file.id) : []);
    return namedFiles(table, one.values)
      .filter(({ file }) => !before.has(file.id))
      .map(({ field, file }) => ({ path: pathOf(field), table: table.id, file }));
  };
  return [
    ...own(state, (field) => field),
    ...[...state.form.subforms.keys()].flatMap((subform) =>
      state.hidden[subform]
        ? []
        : presentLines(state, subform).flatMap(({ key, state: line }) =>
            own(line, (field) => linePath({ subform, key }, field)),
          ),
    ),
  ];
}

/** The files that a save has to keep. */
export const filesToClaim = (state: EntryState): FileToken[] => freshFiles(state).map(({ file }) => file);

/** What stands against the files that an entry names: those that were not sent here, or not by this person. */
export async function fileProblems(
  database: Database | Transaction,
  state: EntryState,
  by: string,
): Promise<Problem[]> {
  const named = freshFiles(state);
  const problems: Problem[] = [];
  for (const table of new Set(named.map((one) => one.table))) {
    const some = named.filter((one) => one.table === table);
    const strange = await strangeFiles(
      database,
      table,
      by,
      some.map((one) => one.file),
    );
    for (const { path, file } of some)
      if (strange.has(file.id))
        problems.push({
          path,
          rule: 'file',
          message: say('{file} is not on the server any more. Remove it and add it again.', { file: file.name }),
        });
  }
  return problems;
}
