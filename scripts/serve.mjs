// A seeded application of one's own for tests and pictures: database, build, server.
import { spawn, spawnSync } from 'node:child_process';
import { ensureDatabase } from './cluster.mjs';
import { root } from './install.mjs';

const run = (args, env, cwd = root) => {
  const done = spawnSync(process.execPath, args, { cwd, env, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
  if (done.status !== 0) throw new Error(`${args.join(' ')} failed:\n${done.stdout}${done.stderr}`);
};

/** Serves a database on a free port of loopback; `welcome` is the one-time link of an office without an administrator. */
async function serve(env) {
  const server = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
    cwd: root,
    env,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let welcome;
  const url = await new Promise((resolve, reject) => {
    let said = '';
    server.stdout.on('data', (chunk) => {
      said += chunk;
      const found = /Fiche is open at (\S+)/.exec(said);
      welcome ??= /\S+\/welcome#\S+/.exec(said)?.[0];
      if (found && (welcome || env.FICHE_SAMPLE === '1')) resolve(found[1]);
      else if (env.FICHE_SAMPLE === '1') process.stdout.write(chunk);
    });
    server.on('exit', (code) => reject(new Error(`The server ended with ${code}`)));
  });
  const ended = new Promise((resolve) => server.on('exit', resolve));
  return {
    url,
    welcome,
    async stop() {
      server.kill('SIGTERM');
      await ended;
    },
  };
}

/**
 * Builds the web application, seeds a database of `cluster`, and serves both on a free port of loopback; with `copies`,
 * as many offices that begin alike, each with its own database.
 */
export async function serveSample(cluster, database, copies = 1) {
  const names = Array.from({ length: copies }, (_, at) => (at === 0 ? database : `${database}_${at + 1}`));
  const env = {
    ...process.env,
    PORT: '0',
    HOST: '127.0.0.1',
    FICHE_SAMPLE: '1',
    FICHE_CHECK_ANSWERS: '1',
    // Tests fill a page faster than people do.
    FICHE_LEAST_SECONDS: '0',
  };
  run([`${root}node_modules/vite/bin/vite.js`, 'build', '--logLevel', 'error'], env, `${root}web`);
  run(['--import', 'tsx', 'demo/run.ts'], { ...env, DATABASE_URL: ensureDatabase(cluster, database) });
  const addresses = names.map((name) => ensureDatabase(cluster, name, name === database ? undefined : database));
  const offices = await Promise.all(addresses.map((address) => serve({ ...env, DATABASE_URL: address })));
  return {
    url: offices[0].url,
    urls: offices.map((office) => office.url),
    stop: async () => void (await Promise.all(offices.map((office) => office.stop()))),
  };
}

/** Serves an office without anybody in it, in an empty database of `cluster`; the web application is built before. */
export const serveEmpty = (cluster, database) =>
  serve({
    ...process.env,
    PORT: '0',
    HOST: '127.0.0.1',
    FICHE_SAMPLE: '0',
    FICHE_CHECK_ANSWERS: '1',
    DATABASE_URL: ensureDatabase(cluster, database),
  });
