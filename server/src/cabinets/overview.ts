import type { OverviewView } from '@fiche/core/api';
import { isLimited, recordsOf } from '@fiche/core/queries';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import type { Definitions, StoredForm } from '../definitions/index.ts';
import { draftFindings } from '../forms/index.ts';

/** Records of a table are counted no further than this. */
const COUNTED_MOST = 100_000;
/** How many of the latest additions are looked at for the use of forms. */
const ADDITIONS_MOST = 20_000;

interface Addition {
  place: string;
  label: string;
  filled: number;
  mine: number;
  at: string;
  by: string;
}

/** What goes on in a cabinet, as `login` sees it: tables with their records counted, forms with how often they are filled. */
export async function cabinetOverview(
  app: Database,
  definitions: Definitions,
  cabinet: string,
  login: string,
  mayBuild: boolean,
): Promise<OverviewView> {
  const tables = [...definitions.tables.values()].filter((one) => one.cabinet === cabinet);
  const forms = [...definitions.forms.values()].filter((one) => one.cabinet === cabinet);
  const counted = await countTables(app, definitions.tables, tables);
  const additions = await latestAdditions(app, definitions.tables, tables, login);
  return { tables: counted, forms: forms.map((form) => formUse(definitions, form, additions, mayBuild)) };
}

interface Counted {
  id: string;
  records: number;
  archived: number;
  at: string | null;
  by: string | null;
}

/** The records of tables, counted in one statement, and who changed one last. */
async function countTables(
  app: Database,
  seen: Tables,
  tables: readonly TableDefinition[],
): Promise<OverviewView['tables']> {
  if (tables.length === 0) return [];
  const { rows } = await app.raw<{ rows: Counted[] }>(
    tables
      .map(
        ({ id }) =>
          `SELECT '${id}' AS id, count(*) FILTER (WHERE archived_at IS NULL) AS records, count(*) FILTER (WHERE archived_at IS NOT NULL) AS archived,
             max(changed_at)::text AS at, (array_agg(changed_by ORDER BY changed_at DESC))[1] AS by
           FROM (SELECT archived_at, changed_at, changed_by FROM ${recordsOf(seen, id)} o LIMIT ${COUNTED_MOST}) r`,
      )
      .join(' UNION ALL '),
  );
  return rows.map(({ id, records, archived, at, by }) => {
    // Of more records than were counted, the latest change may be another’s.
    const whole = records + archived < COUNTED_MOST;
    return {
      id,
      records,
      archived,
      changedAt: whole && at ? new Date(at).toISOString() : null,
      changedBy: whole ? by : null,
    };
  });
}

/** What was added through forms and public pages in the last seven days, by table and label of the form. */
async function latestAdditions(
  app: Database,
  seen: Tables,
  tables: readonly TableDefinition[],
  login: string,
): Promise<Addition[]> {
  const unseen = tables
    .filter(({ id }) => isLimited(seen, id))
    .map(
      ({ id }) => ` AND NOT (place = 'data.${id}' AND record NOT IN (SELECT r.id::text FROM ${recordsOf(seen, id)} r))`,
    );
  const { rows } = await app.raw<{ rows: Addition[] }>(
    `SELECT place, through->>'label' AS label, count(*) AS filled, count(*) FILTER (WHERE account = ?) AS mine,
       max(at)::text AS at, (array_agg(account ORDER BY at DESC))[1] AS by
     FROM (SELECT place, through, account, at FROM ledger.line
       WHERE at >= now() - interval '7 days' AND kind = 'add' AND place = ANY(?) AND through->>'kind' IN ('form', 'page')${unseen.join('')}
       ORDER BY at DESC LIMIT ${ADDITIONS_MOST}) latest
     GROUP BY 1, 2`,
    [login, tables.map((one) => `data.${one.id}`)] as unknown as string[],
  );
  return rows;
}

function formUse(
  definitions: Definitions,
  form: StoredForm,
  additions: readonly Addition[],
  mayBuild: boolean,
): OverviewView['forms'][number] {
  const label = (form.live ?? form.draft).label;
  const use = additions.find((one) => one.place === `data.${form.table}` && one.label === label);
  const findings = mayBuild ? draftFindings(definitions, form) : [];
  return {
    id: form.id,
    filled: use?.filled ?? 0,
    mine: use?.mine ?? 0,
    filledAt: use ? new Date(use.at).toISOString() : null,
    filledBy: use?.by ?? null,
    must: findings.filter((one) => one.weight === 'must').length,
    look: findings.filter((one) => one.weight === 'look').length,
  };
}
