import { all, type Condition, operandsOf } from '@fiche/core/conditions';
import { type DefinedForm, type PreparedField, type PreparedForm, prepareForm } from '@fiche/core/forms';
import { say, sayCount } from '@fiche/core/languages';
import { certainPairs, conjuncts } from '@fiche/core/narrowing';
import type { Finding } from '@fiche/core/proof';
import { conditionToSql, quoted, relation } from '@fiche/core/queries';
import { findField, linkedTable, type Tables } from '@fiche/core/tables';
import { ask, type Database, type Transaction } from '../database/index.ts';
import { showTitle, titleSql } from '../records/index.ts';

/** No more parents than this are looked at: the finding is a hint, and a builder waits for it. */
const MOST = 5_000;
const NAMED = 3;

/** Values of a parent dropdown under which its child has nothing to offer: whoever chooses one is stuck. */
export async function emptyParents(
  database: Database | Transaction,
  definition: DefinedForm,
  tables: Tables,
): Promise<Finding[]> {
  if (!tables.has(definition.table)) return [];
  const form = prepareForm(definition, tables);
  const found: Finding[] = [];
  for (const child of form.fields.values()) {
    if (!child.placed || !child.source || child.source.column !== undefined) continue;
    for (const { column, parent } of certainPairs(child.narrowing.where)) {
      const finding = await underneath(database, form, child, column, form.fields.get(parent));
      if (finding) found.push(finding);
    }
  }
  return found;
}

/** The conditions of a narrowing that hang on nothing but the choices: they hold whatever is entered on the form. */
const conditionsOnChoices = (field: PreparedField): Condition =>
  all(
    ...conjuncts(field.narrowing.where).filter((one) =>
      operandsOf(one).every(({ kind }) => kind === 'column' || kind === 'constant'),
    ),
  );

async function underneath(
  database: Database | Transaction,
  form: PreparedForm,
  child: PreparedField,
  column: string,
  parent: PreparedField | undefined,
): Promise<Finding | undefined> {
  const { tables } = form;
  const [choices, over] = [tables.get(child.source?.table ?? ''), tables.get(parent?.source?.table ?? '')];
  if (!parent || !choices || !over || parent.source?.column !== undefined || column.includes('.')) return undefined;
  if (linkedTable(findField(choices, column)) !== over.id) return undefined;
  const own = conditionToSql(tables, over.id, 'p', conditionsOnChoices(parent));
  const below = conditionToSql(tables, choices.id, 'c', conditionsOnChoices(child));
  const rows = await ask<{ title: unknown; n: number }>(
    database,
    `SELECT ${titleSql(tables, over, 'p')} AS title, count(*) OVER () AS n
     FROM (SELECT p.* FROM ${relation(over.id)} p WHERE p.archived_at IS NULL AND ${own.text} ORDER BY p.id LIMIT ${MOST}) p
     WHERE NOT EXISTS (SELECT 1 FROM ${relation(choices.id)} c
       WHERE c.${quoted(column)} = p.id AND c.archived_at IS NULL AND ${below.text})
     ORDER BY p.id LIMIT ${NAMED}`,
    [...own.values, ...below.values],
  );
  const n = rows[0]?.n ?? 0;
  if (n === 0) return undefined;
  const named = rows.map((row) => `“${showTitle(tables, over, row.title)}”`).join(', ');
  return {
    rule: 'emptyParent',
    weight: 'look',
    path: child.id,
    message: sayCount(
      n,
      '{label} has no choices under {count} value of {other}: {named}.',
      '{label} has no choices under {count} values of {other}: {named}.',
      {
        label: child.label,
        other: parent.label,
        named: n > rows.length ? say('{named} and others', { named }) : named,
      },
    ),
    why: say('Whoever chooses one of them has nothing to choose next.'),
  };
}
