// What the commands around backups share: their options, and the parts of Fiche that they run.
import { spawnSync } from 'node:child_process';
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { giveUp, root } from '../install.mjs';

/** The options of a command, of those that it has; says its use and ends where one is wrong or a required one is missing. */
export function optionsOf(options, required, usage) {
  try {
    const { values } = parseArgs({ options });
    if (required.every((name) => values[name] !== undefined)) return values;
  } catch (error) {
    process.stderr.write(`${error.message}\n`);
  }
  return giveUp(usage);
}

export const pathOf = (given) => (given === undefined ? null : resolve(given));

/** Runs a TypeScript file of Fiche and gives what it wrote. Throws with what it said when it fails. */
export function runTypeScript(file, env, args = []) {
  const done = spawnSync(process.execPath, ['--import', 'tsx', file, ...args], {
    cwd: root,
    env: { ...process.env, ...env },
    encoding: 'utf8',
    maxBuffer: 64 * 1024 * 1024,
  });
  if (done.status !== 0) throw new Error((done.stdout + done.stderr).trim() || `${file} ended with ${done.status}`);
  return done.stdout;
}
