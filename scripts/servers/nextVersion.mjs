// The version after this one, as a restart brings it: the same code with one more step of migration.
import { cpSync, mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from '../install.mjs';

/** A step as a new version may bring it: a column of a table that is in use, and a table of its own. */
const NEXT_STEP = `
ALTER TABLE fiche.task ADD COLUMN rolled_on text NOT NULL DEFAULT 'next';
CREATE TABLE fiche.rolled (id bigint PRIMARY KEY, at timestamptz NOT NULL DEFAULT now());
GRANT SELECT ON fiche.rolled TO {app};
`;

/** Makes a checkout of the next version in a folder of its own. Gives its path and how to remove it. */
export function nextVersion() {
  const home = mkdtempSync(join(tmpdir(), 'fiche-next-'));
  for (const name of ['node_modules', 'core', 'web', 'tsconfig.json', 'package.json'])
    symlinkSync(join(root, name), join(home, name));
  mkdirSync(join(home, 'server'));
  cpSync(join(root, 'server/package.json'), join(home, 'server/package.json'));
  cpSync(join(root, 'server/src'), join(home, 'server/src'), { recursive: true });
  writeFileSync(join(home, 'server/src/database/migrations/998_next.sql'), NEXT_STEP);
  return { home, remove: () => rmSync(home, { recursive: true, force: true }) };
}
