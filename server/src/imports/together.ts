import type { ImportPlan } from '@fiche/core/imports';
import { joinedWords, say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import { type FieldId, findField, type TableDefinition } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { checkTogether, forbiddenRows } from '../staging/index.ts';
import { stagingOf } from './staged.ts';
import type { Target } from './targets.ts';

/** Whether a row can be refused once it is staged, for another one or for the role: then its cells are kept until it is settled. */
export const comparesRows = (table: TableDefinition, plan: ImportPlan, definitions: Definitions): boolean =>
  forbiddenRows(definitions, table, '').length > 0 ||
  plan.key.length > 0 ||
  table.kind === 'list' ||
  table.constraints.length > 0 ||
  table.fields.some((field) => field.unique);

/**
 * Checks what only all rows together show, in the database: what would be there twice or overlap, in the file or with
 * what is there. Rows wait whole, so that a change of one field is held to rules over several. Returns how many rows
 * turned out bad.
 */
export async function checkRowsTogether(
  owner: Database,
  id: number,
  table: TableDefinition,
  targets: readonly Target[],
  plan: ImportPlan,
  definitions: Definitions,
): Promise<number> {
  const staging = stagingOf(id);
  const there = plan.into.kind === 'table';
  const place = relation(table.id);
  const nameOf = (field: FieldId): string => targets.find((one) => one.field.id === field)?.column.name ?? field;
  let bad = 0;
  /** Takes rows out of staging that hold `where`, with their reason. */
  const refuse = async (where: string, field: FieldId, message: string): Promise<void> => {
    const { rows } = await owner.raw<{ rows: { n: number }[] }>(
      `WITH gone AS (DELETE FROM ${staging} s WHERE ${where} RETURNING "row#" AS number, "beside#" AS cells),
         kept AS (INSERT INTO fiche.import_bad_row (import, number, cells, problems) SELECT ?, number, cells, ?::jsonb FROM gone RETURNING 1)
       SELECT count(*) AS n FROM kept`,
      [id, JSON.stringify([{ column: nameOf(field), message }])],
    );
    bad += rows[0]?.n ?? 0;
  };
  if (there)
    for (const { where, message } of forbiddenRows(definitions, table, place))
      await refuse(where, targets[0]?.field.id ?? '', message);
  const [first] = plan.key;
  if (there && first !== undefined) {
    const label = joinedWords(plan.key.map((key) => findField(table, key)?.label ?? key));
    const columns = plan.key.map((key) => quoted(key)).join(', ');
    await refuse(
      `s."row#" IN (SELECT "row#" FROM (SELECT "row#", row_number() OVER (PARTITION BY ${columns} ORDER BY "row#") AS n FROM ${staging}) t WHERE n > 1)`,
      first,
      say('An earlier row of the file has the same {label}.', { label }),
    );
  }
  await checkTogether(
    {
      staging,
      table,
      there,
      twice: (label) =>
        say('An earlier row of the file has the same {label}. It must be different in each record.', { label }),
    },
    refuse,
  );
  return bad;
}
