// The files of a backup: packed with gzip and, where a key is given, encrypted with age (age-encryption.org/v1).
import { execFileSync, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream, existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { PassThrough } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import { installed } from '../install.mjs';

/** What the manifest of a backup says first. */
export const FORMAT = 'fiche-backup/1';

/** How an encrypted file ends. */
export const ENCRYPTED = '.age';

const age = () =>
  installed(
    () => ['/usr/bin/age', '/usr/local/bin/age'].find((path) => existsSync(path)),
    'age',
    'age is missing, which encrypts backups: install it (Debian: apt-get install age), then try again.',
  );

/** Makes a pair of keys in a folder: who holds `recipients` encrypts, who holds `identity` reads. Gives the paths of both. */
export function ageKey(folder) {
  const identity = join(folder, 'identity.txt');
  const recipients = join(folder, 'recipients.txt');
  const keygen = age().replace(/age$/, 'age-keygen');
  execFileSync(keygen, ['-o', identity], { stdio: 'ignore' });
  writeFileSync(recipients, execFileSync(keygen, ['-y', identity]));
  return { identity, recipients };
}

/** Runs a program between two streams. Throws what it said when it fails. */
function filter(program, args) {
  const child = spawn(program, args, { stdio: ['pipe', 'pipe', 'pipe'] });
  return { child, done: succeeded(child, program) };
}

/** Settles when a program has ended; throws with the first line of what it said when it failed. */
export function succeeded(child, name) {
  let said = '';
  child.stderr?.on('data', (chunk) => {
    said = `${said}${chunk}`.slice(-2_000);
  });
  return new Promise((resolve, reject) => {
    child.on('error', reject);
    child.on('close', (code) => {
      const reason = said.trim().split('\n')[0];
      if (code === 0) resolve();
      else reject(new Error(`${name.split('/').at(-1)} failed: ${reason || `it ended with ${code}`}`));
    });
  });
}

/**
 * Writes a stream into a file, packed, and encrypted for `key`, a file with age recipients. The file has its name only once it is
 * whole. Gives its name, length in bytes and SHA-256.
 */
export async function pack(source, folder, name, key) {
  const file = `${name}.gz${key ? ENCRYPTED : ''}`;
  const begun = join(folder, `${file}.begun`);
  const hash = createHash('sha256');
  let bytes = 0;
  const counted = new PassThrough();
  counted.on('data', (chunk) => {
    hash.update(chunk);
    bytes += chunk.length;
  });
  const target = createWriteStream(begun, { mode: 0o600 });
  if (key) {
    const { child, done } = filter(age(), ['--encrypt', '--recipients-file', key]);
    await Promise.all([
      pipeline(source, createGzip({ level: 6 }), child.stdin),
      pipeline(child.stdout, counted, target),
      done,
    ]);
  } else await pipeline(source, createGzip({ level: 6 }), counted, target);
  renameSync(begun, join(folder, file));
  return { file, bytes, sha256: hash.digest('hex') };
}

/** Reads a packed file into a stream, decrypted with `key`, a file with an age identity. */
export async function unpack(path, target, key) {
  if (!path.endsWith(ENCRYPTED)) return pipeline(createReadStream(path), createGunzip(), target);
  if (!key) throw new Error('This backup is encrypted: give the file with its key by --key.');
  const { child, done } = filter(age(), ['--decrypt', '--identity', key]);
  await Promise.all([
    // What is wrong with the key is said by the program itself.
    pipeline(createReadStream(path), child.stdin).catch(() => undefined),
    pipeline(child.stdout, createGunzip(), target).catch(async (error) => {
      await done;
      throw error;
    }),
    done,
  ]);
}

export const sha256Of = async (path) => {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path)) hash.update(chunk);
  return hash.digest('hex');
};

export const writeManifest = (folder, manifest) =>
  writeFileSync(join(folder, 'manifest.json'), `${JSON.stringify({ format: FORMAT, ...manifest }, null, 2)}\n`);

/** The manifest of a backup. Throws where the folder holds none that is whole. */
export function readManifest(folder) {
  const path = join(folder, 'manifest.json');
  if (!existsSync(path)) throw new Error(`${folder} holds no whole backup: it has no manifest.json.`);
  const manifest = JSON.parse(readFileSync(path, 'utf8'));
  if (manifest.format !== FORMAT) throw new Error(`${path} is of another format than ${FORMAT}.`);
  return manifest;
}
