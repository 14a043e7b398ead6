// Programs that operators run beside Fiche, from Debian's packages, on loopback and for as long as a command takes.
import { spawn, spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { asUser, freePort } from '../cluster.mjs';
import { installed, root } from '../install.mjs';
import { ended } from '../load/startServer.mjs';

const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** A program by where Debian's package puts it; the package is installed when root. */
export const programOf = (debianPackage, path) =>
  installed(
    () => (existsSync(path) ? path : undefined),
    debianPackage,
    `${debianPackage} is missing: install it (Debian: apt-get install ${debianPackage}), then try again.`,
  );

/** Waits until something listens on a port of loopback. Throws when nothing does in time. */
async function listening(port, child) {
  for (let tries = 0; tries < 100; tries++) {
    const there = await new Promise((resolve) => {
      const socket = connect(port, '127.0.0.1', () => resolve(true)).on('error', () => resolve(false));
      socket.on('connect', () => socket.end());
    });
    if (there) return;
    if (child.exitCode !== null) break;
    await wait(100);
  }
  throw new Error(`Nothing listens on port ${port}`);
}

/**
 * Runs a program with a configuration until `stop` is called. `configure` is given a free port and a folder of its own, and
 * gives the text of each file by name; `args` are given the folder. With `as`, under that user.
 */
export async function runProgram({ program, configure, args, as = {} }) {
  const port = await freePort();
  const folder = mkdtempSync(join(tmpdir(), 'fiche-program-'));
  // Under another user it has to reach what it is given; nothing in it is worth more than this run.
  chmodSync(folder, 0o777);
  for (const [name, text] of Object.entries(configure(port, folder))) writeFileSync(join(folder, name), text);
  const child = spawn(program, args(folder), { ...as, cwd: folder, stdio: ['ignore', 'ignore', 'pipe'] });
  let said = '';
  child.stderr.on('data', (chunk) => {
    said = `${said}${chunk}`.slice(-2_000);
  });
  try {
    await listening(port, child);
  } catch (error) {
    child.kill('SIGKILL');
    rmSync(folder, { recursive: true, force: true });
    throw new Error(`${program} does not start: ${said.trim() || error.message}`);
  }
  return {
    port,
    folder,
    async stop() {
      child.kill('SIGTERM');
      await ended(child);
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** haproxy before several servers, given by their ports: each gets requests while it says that it is ready. */
export const runProxy = (ports) =>
  runProgram({
    program: programOf('haproxy', '/usr/sbin/haproxy'),
    args: (folder) => ['-db', '-f', join(folder, 'haproxy.cfg')],
    configure: (port) => ({ 'haproxy.cfg': proxyConfiguration(port, ports) }),
  });

const documented = (name) => readFileSync(join(root, 'docs/operate', name), 'utf8');

/** The configuration of docs/operate, with other addresses. */
const proxyConfiguration = (port, ports) =>
  documented('haproxy.cfg')
    .replace('bind 127.0.0.1:4600', `bind 127.0.0.1:${port}`)
    .replaceAll(/server fiche(\d) 127\.0\.0\.1:\d+/g, (_all, n) => `server fiche${n} 127.0.0.1:${ports[n - 1]}`);

/** nginx with TLS before one server, as docs/operate has it, with a certificate made for this run. Gives its port and that certificate. */
export async function runTls(serverPort) {
  const program = programOf('nginx-light', '/usr/sbin/nginx');
  const running = await runProgram({
    program,
    args: (folder) => ['-c', join(folder, 'nginx.conf'), '-p', folder, '-e', join(folder, 'error.log')],
    configure: (port, folder) => {
      const made = spawnSync(
        programOf('openssl', '/usr/bin/openssl'),
        [
          ...'req -x509 -newkey rsa:2048 -nodes -days 2 -subj /CN=localhost -addext subjectAltName=IP:127.0.0.1'.split(
            ' ',
          ),
          '-keyout',
          join(folder, 'key.pem'),
          '-out',
          join(folder, 'certificate.pem'),
        ],
        { encoding: 'utf8' },
      );
      if (made.status !== 0) throw new Error(`openssl failed: ${made.stderr}`);
      const site = documented('nginx.conf')
        .replace('listen 443 ssl', `listen 127.0.0.1:${port} ssl`)
        .replace('listen 80', `listen unix:${join(folder, 'plain.sock')}`)
        .replace('/etc/ssl/fiche/fullchain.pem', join(folder, 'certificate.pem'))
        .replace('/etc/ssl/fiche/privkey.pem', join(folder, 'key.pem'))
        .replace('127.0.0.1:4600', `127.0.0.1:${serverPort}`);
      return {
        'nginx.conf': `daemon off;\npid ${join(folder, 'nginx.pid')};\nevents {}\nhttp {\naccess_log off;\n${['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map((one) => `${one}_temp_path ${join(folder, one)};`).join('\n')}\n${site}\n}\n`,
      };
    },
  });
  return { ...running, certificate: readFileSync(join(running.folder, 'certificate.pem'), 'utf8') };
}

/** pgbouncer before a database, one connection a transaction: as in Debian's version, it keeps no prepared statements. */
export const runPooler = ({ databasePort, database, role, password, connections }) =>
  runProgram({
    program: programOf('pgbouncer', '/usr/sbin/pgbouncer'),
    as: asUser(),
    args: (folder) => [join(folder, 'pgbouncer.ini')],
    configure: (port, folder) => ({
      'users.txt': `"${role}" "${password}"\n`,
      'pgbouncer.ini': `
[databases]
${database} = host=127.0.0.1 port=${databasePort}
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = ${port}
unix_socket_dir =
auth_type = scram-sha-256
auth_file = ${join(folder, 'users.txt')}
pool_mode = transaction
default_pool_size = ${connections}
max_client_conn = 500
`,
    }),
  });
