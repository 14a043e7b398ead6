import { chmodSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor, connect, type Databases, disconnect, migrate } from '../../server/src/database/index.ts';
import { sealLedger, verifyLedger } from '../../server/src/history/index.ts';
import { ensureDatabase, startCluster } from '../cluster.mjs';
import { query } from '../query.mjs';
import { ageKey, writeManifest } from './files.mjs';
import { followLog } from './follow.mjs';
import { restoreBackup } from './restoring.mjs';
import { removeOld, takeBackup } from './take.mjs';

const ACTOR = { name: 'harbourmaster', through: { kind: 'tables', label: 'Cabinets' } } as const;

let cluster: Awaited<ReturnType<typeof startCluster>>;
let databases: Databases;
let folder: string;
let key: { recipients: string; identity: string };
let source: { bin: string; owner: string; replication: string; stop(): void };
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'fiche-backups-'));
  // The database's own user has to reach what is restored.
  chmodSync(folder, 0o711);
  key = ageKey(folder);
  cluster = await startCluster({ throwaway: true });
  const owner = ensureDatabase(cluster, 'office');
  databases = connect(owner);
  await migrate(databases.owner, owner);
  source = { bin: cluster.bin, owner, replication: cluster.url(), stop: () => undefined };
}, 60_000);
afterAll(async () => {
  await disconnect(databases);
  cluster.stop();
  rmSync(folder, { recursive: true, force: true });
});

const addCabinet = (pools: Databases, id: string): Promise<unknown> =>
  asActor(pools.owner, ACTOR, (write) => write('fiche.cabinet').insert({ id, label: id }));

/** Starts what was restored and gives what is in it, while `work` uses it. */
async function opened<T>(home: string, work: (pools: Databases, cabinets: string[]) => Promise<T>): Promise<T> {
  const restored = await startCluster({ folder: home });
  const pools = connect(restored.url('office'));
  try {
    const rows = await pools.owner('fiche.cabinet').orderBy('id').select('id');
    return await work(
      pools,
      rows.map((one: { id: string }) => one.id),
    );
  } finally {
    await disconnect(pools);
    restored.stop();
  }
}

test('a server that was copied is brought to a moment, by the log that was kept, encrypted both', async () => {
  const to = join(folder, 'kept');
  const gone = new AbortController();
  const following = followLog(source, { to, key: key.recipients, signal: gone.signal });
  await addCabinet(databases, 'one');
  const { folder: from } = await takeBackup(source, { kind: 'base', to, key: key.recipients });
  await addCabinet(databases, 'two');
  const [{ moment }] = await query(source.owner, 'SELECT clock_timestamp()::text AS moment');
  await addCabinet(databases, 'three');
  // What the server has written so far has come once the next segment begins.
  await query(source.replication, 'SELECT pg_switch_wal()');
  gone.abort();
  await following;
  expect(readdirSync(join(to, 'log')).filter((one) => !one.endsWith('.age'))).toEqual(['incoming']);

  const into = join(folder, 'then');
  const restored = await restoreBackup({ from, to: into, at: moment, key: key.identity, keep: true });
  expect(restored.verdict).toContain('No tampering found');
  await opened(restored.home, async (_pools, cabinets) => expect(cabinets).toEqual(['one', 'two']));
  expect(await databases.owner('fiche.backup').first('kind', 'state', 'encrypted')).toEqual({
    kind: 'base',
    state: 'done',
    encrypted: true,
  });

  await expect(restoreBackup({ from, to: into, key: key.identity })).rejects.toThrow('not empty');
  await expect(restoreBackup({ from, to: join(folder, 'locked') })).rejects.toThrow('give the file with its key');
}, 120_000);

test('a dump goes into another server, where the seals go on in their order', async () => {
  // Numbers of transactions here are above those with which a new server begins.
  await query(
    cluster.url('office'),
    'DO $$ BEGIN FOR n IN 1..3000 LOOP PERFORM txid_current(); COMMIT; END LOOP; END $$',
  );
  await addCabinet(databases, 'four');
  const { folder: from } = await takeBackup(source, { kind: 'dump', to: join(folder, 'kept'), key: null });
  const restored = await restoreBackup({ from, to: join(folder, 'elsewhere'), keep: true });
  expect(restored.verdict).toContain('No tampering found');
  await opened(restored.home, async (pools, cabinets) => {
    expect(cabinets).toContain('four');
    await addCabinet(pools, 'five');
    await sealLedger(pools.owner, '0 min');
    const { misfits, seals, unsealed } = await verifyLedger(pools.owner);
    expect([misfits, unsealed]).toEqual([[], 0]);
    expect(seals).toBeGreaterThan(1);
  });
  await expect(restoreBackup({ from, to: join(folder, 'never'), at: '2026-11-27T12:00:00Z' })).rejects.toThrow(
    'one moment only',
  );
}, 120_000);

test('a backup that is not what was written is refused by name, before anything is restored', async () => {
  const from = join(folder, 'kept', readdirSync(join(folder, 'kept')).find((one) => one.endsWith('-dump')) ?? '');
  writeFileSync(join(from, 'dump.gz'), 'altered', { flag: 'a' });
  await expect(restoreBackup({ from, to: join(folder, 'altered') })).rejects.toThrow('SHA-256 differs');
  await expect(restoreBackup({ from: folder, to: join(folder, 'nothing') })).rejects.toThrow('no whole backup');
});

test('of older backups so many stay, with the log that the oldest of them needs', () => {
  const to = mkdtempSync(join(folder, 'old-'));
  const made = (name: string, segment: string | null): void => {
    mkdirSync(join(to, name));
    if (segment) writeManifest(join(to, name), { segment });
  };
  made('2026-11-01T00.00.00Z-base', '000000010000000000000001');
  made('2026-11-02T00.00.00Z-base', '000000010000000000000003');
  made('2026-11-03T00.00.00Z-base', null);
  made('2026-11-04T00.00.00Z-base', '000000020000000000000005');
  made('2026-11-04T01.00.00Z-dump', '000000020000000000000005');
  made('2026-11-05T00.00.00Z-base', null);
  mkdirSync(join(to, 'log'));
  for (const n of [2, 3, 4, 5]) writeFileSync(join(to, 'log', `00000001000000000000000${n}.gz`), '');
  removeOld(to, 2);
  // What began last may still be under way.
  expect(readdirSync(to)).toEqual([
    '2026-11-02T00.00.00Z-base',
    '2026-11-04T00.00.00Z-base',
    '2026-11-04T01.00.00Z-dump',
    '2026-11-05T00.00.00Z-base',
    'log',
  ]);
  expect(readdirSync(join(to, 'log')).map((one) => one[23])).toEqual(['3', '4', '5']);
});
