import { generateForm, prepareForm } from '@fiche/core/forms';
import { everyAction, FIRST_ROLES, type RoleDefinition } from '@fiche/core/rights';
import { findChoices, readableOf } from '@fiche/server/choices/index';
import { asActor } from '@fiche/server/database/index';
import { addRole, asSeenBy, loadDefinitions } from '@fiche/server/definitions/index';
import { listRecords } from '@fiche/server/records/index';
import { comparing } from './compared.ts';
import { fillBerths, openBenchOffice, type Ratio } from './office.ts';

const RECORDS = 1_000_000;
const PONTOONS = 20_000;
const compared = comparing('≤ 1.3');
/** Choices take a moment only: more of them tell as much. */
const QUICK_ROUNDS = 300;
/** The berths whose pontoon’s letter comes before this one: a good half of them. */
const BEFORE = 'P2';

const WHERE = `r.archived_at IS NULL AND r.pontoon IN (SELECT p.id FROM data.quay_pontoons p WHERE p.letter COLLATE "C" < '${BEFORE}')`;
const COLUMNS =
  'r.id, r.version, r.created_at, r.created_by, r.changed_at, r.changed_by, r.archived_at, r.number, r.pontoon';
const TITLE = '(SELECT p.letter FROM data.quay_pontoons p WHERE p.id = r.pontoon) AS title';

/** The role of somebody who sees half of a million berths, by a condition behind a link. */
function limitedRole(): RoleDefinition {
  const clerk = FIRST_ROLES.find((one) => one.id === 'clerk');
  if (!clerk) throw new Error('There is no clerk');
  const { id: _id, revision: _revision, ...definition } = clerk;
  const left = { kind: 'column' as const, path: 'pontoon.letter' };
  const condition = {
    kind: 'compare' as const,
    left,
    operator: 'less' as const,
    right: { kind: 'constant' as const, value: BEFORE },
  };
  const see = { kind: 'group' as const, match: 'all' as const, of: [condition] };
  return { ...definition, label: 'Limited', tables: { quay_berths: { ...everyAction('all'), see } } };
}

/** Under a right to some records: the first page, choices and a search, against SQL with the same condition by hand. */
export async function limitedBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  try {
    const { app, owner } = office.databases;
    await fillBerths(office.databases, PONTOONS, RECORDS);
    await asActor(owner, { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } }, (write) =>
      addRole(write, 'quay', 'limited', limitedRole()),
    );
    const { tables, seen } = asSeenBy(await loadDefinitions(app), 'quay', 'limited', 'quayclerk');
    const stays = seen?.whole.tables.get('quay_stays');
    if (!stays || !seen) throw new Error('There are no stays');
    const form = prepareForm(generateForm(stays), seen.whole.tables);
    const berth = form.fields.get('berth');
    if (!berth) throw new Error('The form has no berth');
    const list = (search: string) =>
      listRecords(app, tables, 'quay_berths', { search, archived: 'no', limit: 50, direction: 'up' });
    const byHand = async (more: string): Promise<unknown> => {
      await app.raw(`SELECT count(*) AS n FROM data.quay_berths r WHERE ${WHERE}${more}`);
      return app.raw(
        `SELECT ${COLUMNS}, ${TITLE} FROM data.quay_berths r WHERE ${WHERE}${more} ORDER BY r.id LIMIT 51`,
      );
    };
    const matching = (search: string): string =>
      ` AND r.id IN (SELECT id FROM data.quay_berths WHERE coalesce("number", '') ILIKE '%${search}%' UNION ALL SELECT id FROM data.quay_berths WHERE pontoon IN (SELECT t.id FROM data.quay_pontoons t WHERE coalesce(t."letter", '') ILIKE '%${search}%'))`;
    const asked = { account: 'quayclerk', now: '2026-08-17T09:00', values: {} };
    return [
      await compared(
        'first page of 1,000,000 records under a right',
        () => list(''),
        () => byHand(''),
      ),
      await compared(
        'search in them',
        (round) => list(`B-${4321 + round}`),
        (round) => byHand(matching(`B-${4321 + round}`)),
      ),
      await compared(
        'choices out of them',
        async () => findChoices(app, tables, await readableOf(app, seen.rows, form, asked, berth), berth, '', 50),
        () =>
          app.raw(
            `SELECT r.id, r.number FROM data.quay_berths r WHERE ${WHERE} ORDER BY r.number COLLATE fiche.natural NULLS LAST, r.id LIMIT 51`,
          ),
        QUICK_ROUNDS,
      ),
    ];
  } finally {
    await office.close();
  }
}
