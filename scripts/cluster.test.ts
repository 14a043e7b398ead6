import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';

const run = (script: string, folder: string): string => {
  const done = spawnSync(
    process.execPath,
    [
      '--input-type=module',
      '-e',
      `import { ensureDatabase, startCluster } from './scripts/cluster.mjs'; const folder = ${JSON.stringify(folder)}; ${script}`,
    ],
    { encoding: 'utf8' },
  );
  return `${done.stdout}${done.stderr}`.trim();
};

test('a database that outlived everything else is taken over by the next start, and by nothing while that one runs', () => {
  const parent = mkdtempSync(join(tmpdir(), 'fiche-outlived-'));
  // The database's own user has to reach it.
  chmodSync(parent, 0o755);
  const folder = join(parent, 'state');
  try {
    // Ends without stopping its database, as when it is killed.
    const first = run(
      'const c = await startCluster({ folder, hold: true }); console.log(c.port); process.exit(0)',
      folder,
    );
    expect(first).toMatch(/^\d+$/);
    const second = run(
      `const c = await startCluster({ folder, hold: true });
       console.log(c.port, new URL(ensureDatabase(c, 'again')).username, new URL(c.url()).password !== c.ownerPassword());
       const other = await startCluster({ folder, borrow: true }); other.stop();
       console.log((await startCluster({ folder, borrow: true })).port); c.stop()`,
      folder,
    );
    expect(second.split('\n')).toEqual([`${first} fiche_owner true`, first]);
    expect(run('const c = await startCluster({ folder, hold: true }); c.stop(); console.log("stopped")', folder)).toBe(
      'stopped',
    );
  } finally {
    rmSync(parent, { recursive: true, force: true });
  }
}, 120_000);
