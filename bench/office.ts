import { randomBytes } from 'node:crypto';
import { all, is } from '@fiche/core/conditions';
import { type DefinedForm, type generateForm, isField } from '@fiche/core/forms';
import { type NewFieldInput, newFieldSchema } from '@fiche/core/tables';
import { addAccount, addMembership } from '@fiche/server/accounts/index';
import { asActor, connect, type Database, type Databases, disconnect, migrate } from '@fiche/server/database/index';
import { createForm, publishForm, saveDraft } from '@fiche/server/forms/index';
import { addField, createCabinet, createTable } from '@fiche/server/tables/index';
import pg from 'pg';

export interface Ratio {
  readonly what: string;
  readonly ratio: number;
  readonly aim: string;
  readonly detail: string;
}

export interface BenchOffice {
  readonly databases: Databases;
  readonly ownerUrl: string;
  close(): Promise<void>;
}

const field = (label: string, type: string, settings: Record<string, unknown> = {}): NewFieldInput => ({
  label,
  type,
  settings,
});
const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } } as const;

/**
 * A database with pontoons, berths and stays, and a Check-in form whose berth is narrowed by its pontoon; made at the moment `since`,
 * ISO 8601, or now.
 */
export async function openBenchOffice(since?: string): Promise<BenchOffice> {
  const cluster = new URL(process.env.FICHE_BENCH_CLUSTER ?? '');
  const name = `bench_${randomBytes(4).toString('hex')}`;
  const admin = new pg.Client({ connectionString: cluster.href });
  await admin.connect();
  await admin.query(`CREATE DATABASE ${name} OWNER fiche_owner`);
  const url = new URL(process.env.FICHE_BENCH_OWNER ?? '');
  url.pathname = name;
  const databases = connect(url.href, { app: 16, owner: 4 });
  await migrate(databases.owner, url.href);
  await fillOffice(databases.owner, 'bench-password', since);
  return {
    databases,
    ownerUrl: url.href,
    async close() {
      await disconnect(databases);
      await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
      await admin.end();
    },
  };
}

/** Makes the cabinet Quay with pontoons, berths and stays, and a Check-in form, in an empty database; its builder has that password. */
export const fillOffice = async (database: Database, password: string, since?: string): Promise<void> => {
  if (since) await database.raw('SELECT ledger.make_partitions(?::date, now()::date)', [since]);
  await asActor(database, since ? { ...actor, at: since } : actor, async (owner) => {
    await createCabinet(owner, 'quay', 'Quay');
    await addAccount(owner, 'harbourmaster', 'Harbour master', password);
    await addMembership(owner, 'harbourmaster', 'quay', 'builder');
    const plan: Record<string, NewFieldInput[]> = {
      Pontoons: [field('Letter', 'text')],
      Berths: [field('Number', 'text'), field('Pontoon', 'link', { table: 'quay_pontoons' })],
      Stays: [
        field('Number', 'sequence', { prefix: 'STAY-', withYear: true }),
        field('Pontoon', 'link', { table: 'quay_pontoons' }),
        field('Berth', 'link', { table: 'quay_berths' }),
        field('Registration', 'text'),
        field('Length', 'decimal'),
        field('Arrival', 'dateTime'),
        field('Departure', 'dateTime'),
      ],
    };
    for (const [label, fields] of Object.entries(plan)) {
      const table = await createTable(owner, 'quay', label, '');
      for (const one of fields) await addField(owner, table.id, newFieldSchema.parse(one));
      if (label === 'Stays') {
        const row = await createForm(owner, 'quay', table.id, 'Check-in');
        const draft = await saveDraft(owner, row.id, narrowed(row.draft), 1);
        await publishForm(owner, row.id, draft.revision);
      }
    }
  });
};

function narrowed(draft: ReturnType<typeof generateForm>): DefinedForm {
  const where = all(is({ kind: 'column', path: 'pontoon' }, { kind: 'form', path: 'pontoon' }));
  return {
    ...draft,
    sections: draft.sections.map((section) => ({
      ...section,
      items: section.items.map((one) =>
        isField(one) && one.field === 'berth'
          ? { ...one, narrowing: { where, sort: null, show: [], only: false } }
          : one,
      ),
    })),
    rules: [
      {
        id: 'after',
        kind: 'stop',
        when: null,
        examples: [],
        at: 'departure',
        message: 'Departure must be after arrival.',
        must: {
          kind: 'compare',
          left: { kind: 'form', path: 'departure' },
          operator: 'more',
          right: { kind: 'form', path: 'arrival' },
        },
      },
    ],
  };
}

/** Fills pontoons and berths without going through the triggers: only their number matters here. */
export async function fillBerths(databases: Databases, pontoons: number, berths: number): Promise<void> {
  await asActor(databases.owner, actor, async (owner) => {
    for (const table of ['quay_pontoons', 'quay_berths'])
      await owner.raw(`ALTER TABLE data.${table} DISABLE TRIGGER USER`);
    const stamp = `1, now(), 'bench', now(), 'bench'`;
    const columns = 'version, created_at, created_by, changed_at, changed_by';
    await owner.raw(
      `INSERT INTO data.quay_pontoons (letter, ${columns}) SELECT 'P' || n, ${stamp} FROM generate_series(1, ?::integer) n`,
      [pontoons],
    );
    await owner.raw(
      `INSERT INTO data.quay_berths (number, pontoon, ${columns}) SELECT 'B-' || n, 1 + n % ?::integer, ${stamp} FROM generate_series(1, ?::integer) n`,
      [pontoons, berths],
    );
    for (const table of ['quay_pontoons', 'quay_berths'])
      await owner.raw(`ALTER TABLE data.${table} ENABLE TRIGGER USER`);
  });
  await databases.owner.raw('ANALYZE');
}

/** Gives each berth a date, as a calendar needs one. */
export async function surveyBerths(databases: Databases): Promise<void> {
  await asActor(databases.owner, actor, async (owner) => {
    await addField(owner, 'quay_berths', newFieldSchema.parse(field('Surveyed', 'date')));
    await owner.raw(`ALTER TABLE data.quay_berths DISABLE TRIGGER USER;
      UPDATE data.quay_berths SET surveyed = date '2020-01-01' + (id % 2000)::integer;
      ALTER TABLE data.quay_berths ENABLE TRIGGER USER`);
  });
}

/** The value below which 95 of 100 of the times lie. */
export const p95 = (times: readonly number[]): number =>
  [...times].sort((a, b) => a - b)[Math.floor(times.length * 0.95)] ?? Number.NaN;
