import { destinationsSchema } from '@fiche/core/destinations';
import { type DefinedForm, placeField } from '@fiche/core/forms';
import { newFieldSchema } from '@fiche/core/tables';
import { asActor, type Databases } from '@fiche/server/database/index';
import { loadDefinitions } from '@fiche/server/definitions/index';
import { createForm, publishForm, saveDraft } from '@fiche/server/forms/index';
import { addField, createTable, tendIndexes } from '@fiche/server/tables/index';
import { signIn } from './client.ts';
import { openBenchOffice, type Ratio } from './office.ts';
import { SESSION } from './saving.ts';
import { portOf, startServer, stopServer } from './serving.ts';
import { overHttp, pgbench } from './throughput.ts';

const SECONDS = 10;
const WARM_SECONDS = 15;
const CLIENTS = 8;
/** So many owners send visits, each with a few craft: most are found. */
const OWNERS = 2_000;

/** A visit of a random owner with one of their craft. */
function bodyOf(): string {
  const owner = Math.floor(Math.random() * OWNERS);
  const craft = owner * 3 + Math.floor(Math.random() * 3);
  return `{"values":{"owner__name":"Owner ${owner}","owner__e_mail":"owner${owner}@tern.example","craft__mark":"GS-${craft}","craft__length":8,"nights":2}}`;
}

/** Saves into three tables by one form, against the same statements by pgbench: two finds, and what is not there added. */
export async function severalBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  await makeVisits(office.databases);
  await tendIndexes(office.databases.owner);
  const server = startServer(office.ownerUrl);
  try {
    const port = await portOf(server);
    const headers = await signIn(port, 'harbourmaster', 'bench-password');
    const http = (seconds: number) => overHttp(port, headers, CLIENTS, seconds, 'quay_visit', bodyOf);
    await http(WARM_SECONDS);
    const rounds: { http: number; same: number }[] = [];
    for (let round = 0; round < 2; round++)
      rounds.push({
        http: await http(SECONDS),
        same: pgbench(office.ownerUrl, CLIENTS, SECONDS, VARIABLES, [SESSION, 'BEGIN;', ...STATEMENTS, 'COMMIT;']),
      });
    const mean = (pick: (round: { http: number; same: number }) => number): number =>
      rounds.reduce((sum, round) => sum + pick(round), 0) / rounds.length;
    const [ours, same] = [mean((one) => one.http), mean((one) => one.same)];
    return [
      {
        what: 'saving into three tables against pgbench with the same statements',
        ratio: ours / same,
        aim: '≥ 0.4',
        detail: `${ours.toFixed(0)} against ${same.toFixed(0)} saves a second`,
      },
    ];
  } finally {
    await stopServer(server);
    await office.close();
  }
}

const VARIABLES = `\\set owner random(0, ${OWNERS - 1})
\\set craft :owner * 3 + random(0, 2)`;
const STATEMENTS = [
  `SELECT set_config('fiche.actor', 'harbourmaster', true), set_config('fiche.through', '{"kind":"form","label":"Visit","version":1}', true), set_config('fiche.at', '', true);`,
  `SELECT pg_advisory_xact_lock(hashtextextended('quay_owners owner' || :owner, 0));`,
  `INSERT INTO data.quay_owners (name, e_mail) SELECT 'Owner ' || :owner, 'owner' || :owner || '@tern.example' WHERE NOT EXISTS (SELECT FROM data.quay_owners WHERE lower(e_mail) = lower('owner' || :owner || '@tern.example') AND archived_at IS NULL);`,
  `SELECT pg_advisory_xact_lock(hashtextextended('quay_craft GS-' || :craft, 0));`,
  `INSERT INTO data.quay_craft (mark, length, owner) SELECT 'GS-' || :craft, 8, (SELECT max(id) FROM data.quay_owners WHERE lower(e_mail) = lower('owner' || :owner || '@tern.example')) WHERE NOT EXISTS (SELECT FROM data.quay_craft WHERE lower(mark) = lower('GS-' || :craft) AND archived_at IS NULL);`,
  `WITH written AS (INSERT INTO data.quay_visits (craft, nights) SELECT (SELECT max(id) FROM data.quay_craft WHERE lower(mark) = lower('GS-' || :craft)), 2 RETURNING id)
   INSERT INTO fiche.idempotency (account, key, body_hash, record) SELECT 'harbourmaster', gen_random_uuid()::text, repeat('0', 64), id FROM written;`,
];

/** Owners, craft and visits, and a form over all three. */
async function makeVisits({ owner: database }: Databases): Promise<void> {
  const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } } as const;
  await asActor(database, actor, async (owner) => {
    const plan: Record<string, object[]> = {
      Owners: [
        { label: 'Name', type: 'text', required: true },
        { label: 'E-mail', type: 'email' },
      ],
      Craft: [
        { label: 'Mark', type: 'text', required: true },
        { label: 'Length', type: 'decimal', settings: { places: 1 } },
        { label: 'Owner', type: 'link', settings: { table: 'quay_owners' } },
      ],
      Visits: [
        { label: 'Craft', type: 'link', settings: { table: 'quay_craft' } },
        { label: 'Nights', type: 'wholeNumber' },
      ],
    };
    for (const [label, fields] of Object.entries(plan)) {
      const table = await createTable(owner, 'quay', label, '');
      for (const one of fields) await addField(owner, table.id, newFieldSchema.parse(one));
    }
    const row = await createForm(owner, 'quay', 'quay_visits', 'Visit');
    const { tables } = await loadDefinitions(owner);
    const draft = await saveDraft(owner, row.id, intoThree(row.draft, tables), 1);
    await publishForm(owner, row.id, draft.revision);
  });
}

function intoThree(draft: DefinedForm, tables: Awaited<ReturnType<typeof loadDefinitions>>['tables']): DefinedForm {
  const placed = (table: string, part: string) =>
    (tables.get(table)?.fields ?? [])
      .filter((field) => field.id !== 'owner')
      .map((field) => placeField({ ...field, id: `${part}__${field.id}` } as typeof field));
  const [section] = draft.sections;
  const own = section?.items.filter((item) => !('field' in item && item.field === 'craft')) ?? [];
  return {
    ...draft,
    destinations: destinationsSchema.parse({
      of: [
        { id: 'owner', table: 'quay_owners', does: 'findOrAdd', key: ['e_mail'] },
        { id: 'craft', table: 'quay_craft', does: 'findOrAdd', key: ['mark'] },
      ],
      links: [
        { of: 'craft', field: 'owner', to: 'owner' },
        { of: 'self', field: 'craft', to: 'craft' },
      ],
    }),
    sections: section
      ? [{ ...section, items: [...placed('quay_owners', 'owner'), ...placed('quay_craft', 'craft'), ...own] }]
      : [],
  };
}
